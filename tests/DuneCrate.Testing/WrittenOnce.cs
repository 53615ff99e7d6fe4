namespace DuneCrate.Testing;

/// <summary>
/// Files that are written once in a run, and that each test gets a copy of: an outside tool, or a render, takes longer than the test.
/// </summary>
public sealed class WrittenOnce(Action<TempFolder> write)
{
    private readonly Lazy<TempFolder> _first = new(() =>
    {
        var folder = new TempFolder();
        AppDomain.CurrentDomain.ProcessExit += (_, _) => folder.Dispose();
        write(folder);
        return folder;
    });

    /// <summary>The files, with their times, in a folder of their own.</summary>
    public TempFolder Copy()
    {
        var copy = new TempFolder();
        foreach (string file in Directory.GetFiles(_first.Value.Path, "*", SearchOption.AllDirectories))
        {
            string to = copy[Path.GetRelativePath(_first.Value.Path, file)];
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.Copy(file, to);
        }

        return copy;
    }
}
