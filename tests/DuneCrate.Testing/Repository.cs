namespace DuneCrate.Testing;

/// <summary>The checkout that the tests run in.</summary>
public static class Repository
{
    /// <summary>The folder that holds the solution.</summary>
    public static string Root { get; } = Find();

    /// <summary>A file by its path from the root.</summary>
    public static string File(string path) => Path.Combine(Root, path);

    private static string Find()
    {
        string? folder = AppContext.BaseDirectory;
        while (folder is not null && !System.IO.File.Exists(Path.Combine(folder, "DuneCrate.slnx")))
        {
            folder = Path.GetDirectoryName(folder);
        }

        return folder ?? throw new DirectoryNotFoundException("The tests run outside the repository.");
    }
}
