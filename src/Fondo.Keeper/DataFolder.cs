namespace Fondo.Keeper;

/// <summary>Where the data lie.</summary>
internal static class DataFolder
{
    /// <summary>The database of a data folder; null, with the reason told, where there is none.</summary>
    public static string? Database(string folder, TextWriter error)
    {
        var database = Path.Combine(folder, "fondo.db");
        if (File.Exists(database))
        {
            return database;
        }

        error.WriteLine($"fondo: {folder} holds no database.");
        return null;
    }
}
