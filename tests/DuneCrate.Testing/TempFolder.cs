namespace DuneCrate.Testing;

/// <summary>A folder of one test, removed afterwards.</summary>
public sealed class TempFolder : IDisposable
{
    public string Path { get; } = Directory.CreateTempSubdirectory("dune-crate-test-").FullName;

    public string this[string name] => System.IO.Path.Combine(Path, name);

    public void Dispose() => Directory.Delete(Path, recursive: true);
}
