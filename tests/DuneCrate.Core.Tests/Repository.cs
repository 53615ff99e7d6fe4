namespace DuneCrate.Core.Tests;

/// <summary>Files of the repository that tests read.</summary>
public static class Repository
{
    /// <summary>The folder that holds ./dune.</summary>
    public static string Root { get; } = Find();

    /// <summary>A file by its path from the root.</summary>
    public static string File(string path) => Path.Combine(Root, path);

    private static string Find()
    {
        string folder = AppContext.BaseDirectory;
        while (!System.IO.File.Exists(Path.Combine(folder, "dune")))
        {
            folder = Path.GetDirectoryName(folder) ?? throw new InvalidOperationException("The tests do not run inside the repository.");
        }

        return folder;
    }
}
