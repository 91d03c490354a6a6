namespace Fondo.Keeper;

/// <summary>The database that a command is asked to look at.</summary>
internal static class DatabaseFile
{
    /// <summary>Its path; null, with the reason told, where there is none.</summary>
    public static string? In(string folder, TextWriter error)
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
