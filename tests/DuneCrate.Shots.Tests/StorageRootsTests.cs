using DuneCrate.Foundation.Storage;
using DuneCrate.Shots.Roots;

namespace DuneCrate.Shots.Tests;

/// <summary>Paths that people give lead below the storage roots and nowhere else.</summary>
public sealed class StorageRootsTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-roots-").FullName;
    private readonly StorageRoots _roots;

    public StorageRootsTests()
    {
        Directory.CreateDirectory(Path.Combine(_folder, "renders", "KP010", "sub"));
        Directory.CreateDirectory(Path.Combine(_folder, "renders-old"));
        Directory.CreateDirectory(Path.Combine(_folder, "elsewhere"));
        _roots = Roots();
    }

    [Theory]
    [InlineData("", "")]
    [InlineData("KP010", "KP010")]
    [InlineData("/KP010/", "KP010")]
    [InlineData(" KP010/sub ", "KP010/sub")]
    public void Folders_below_a_root_are_found(string folder, string expected)
    {
        (StoragePath? path, string? problem) = _roots.Resolve("renders", folder);
        Assert.Null(problem);
        Assert.Equal(Path.Combine(_folder, "renders", expected).TrimEnd('/'), path!.FullPath);
    }

    [Theory]
    [InlineData("..", "leads out of renders")]
    [InlineData("KP010/../../elsewhere", "leads out of renders")]
    [InlineData("../renders-old", "leads out of renders")]
    [InlineData("KP010/./sub", "leads out of renders")]
    [InlineData("KP010//sub", "leads out of renders")]
    [InlineData("KP010\\..\\..\\elsewhere", "There is no folder")]
    [InlineData("KP010\0", "leads out of renders")]
    [InlineData("nowhere", "There is no folder 'nowhere' in renders")]
    public void Others_are_refused_and_it_is_said_why(string folder, string part)
    {
        (StoragePath? path, string? problem) = _roots.Resolve("renders", folder);
        Assert.Null(path);
        Assert.Contains(part, problem);
    }

    [Fact]
    public void Links_that_stay_inside_are_followed_and_those_that_lead_out_are_not()
    {
        string renders = Path.Combine(_folder, "renders");
        Directory.CreateSymbolicLink(Path.Combine(renders, "latest"), Path.Combine(renders, "KP010"));
        Directory.CreateSymbolicLink(Path.Combine(renders, "out"), Path.Combine(_folder, "elsewhere"));
        Directory.CreateSymbolicLink(Path.Combine(renders, "old"), Path.Combine(_folder, "renders-old"));
        Assert.Null(_roots.Resolve("renders", "latest").Problem);
        Assert.Contains("a link that leads out", _roots.Resolve("renders", "out").Problem);
        Assert.Contains("a link that leads out", _roots.Resolve("renders", "old").Problem); // Its name begins as the root's does.
    }

    [Theory]
    [InlineData(null)]
    [InlineData("scans")]
    public void An_unknown_root_is_answered_with_those_there_are(string? root) =>
        Assert.Contains("choose renders", _roots.Resolve(root, "KP010").Problem);

    [Fact]
    public void Without_roots_it_is_said_how_to_name_one() =>
        Assert.Contains(
            "--root NAME=DIR",
            new StorageRoots(ServeOptions.ForServe(_folder, 0, "127.0.0.1", [])).Resolve("renders", "").Problem
        );

    [Fact]
    public void Folders_to_choose_from_are_listed_without_hidden_ones()
    {
        Directory.CreateDirectory(Path.Combine(_folder, "renders", ".trash"));
        Directory.CreateDirectory(Path.Combine(_folder, "renders", "KP020"));
        StorageRoots roots = Roots();
        SpinWait.SpinUntil(() => roots.Children("renders").Count > 0, 5000);
        Assert.Equal(["KP010", "KP020"], roots.Children("renders"));
        Assert.Empty(roots.Children("elsewhere"));
    }

    [Fact]
    public void Room_is_that_of_the_disk()
    {
        SpinWait.SpinUntil(() => _roots.FreeBytes("renders") is not null, 5000);
        Assert.InRange(_roots.FreeBytes("renders")!.Value, 1, long.MaxValue);
    }

    private StorageRoots Roots() =>
        new(ServeOptions.ForServe(Path.Combine(_folder, "data"), 0, "127.0.0.1", [$"renders={Path.Combine(_folder, "renders")}"]));

    public void Dispose() => Directory.Delete(_folder, recursive: true);
}
