namespace DuneCrate.Tests;

/// <summary>The checkout that the tests run in.</summary>
internal static class Repository
{
    /// <summary>The folder that holds the solution.</summary>
    public static string Root { get; } = Find();

    private static string Find()
    {
        string? folder = AppContext.BaseDirectory;
        while (folder is not null && !File.Exists(Path.Combine(folder, "DuneCrate.slnx")))
        {
            folder = Path.GetDirectoryName(folder);
        }

        return folder ?? throw new DirectoryNotFoundException("The tests run outside the repository.");
    }
}
