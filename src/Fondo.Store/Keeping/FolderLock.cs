namespace Fondo.Store.Keeping;

/// <summary>A data folder belongs to one running program at a time; the lock ends with its process, however that ends.</summary>
public static class FolderLock
{
    /// <summary>Takes the folder; null while another program has it.</summary>
    public static FileStream? Try(string folder)
    {
        try
        {
            return new(Path.Combine(folder, "fondo.lock"), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
        }
        catch (IOException)
        {
            return null;
        }
    }
}
