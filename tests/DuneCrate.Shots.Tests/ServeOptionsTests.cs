namespace DuneCrate.Shots.Tests;

public class ServeOptionsTests
{
    [Theory]
    [InlineData("renders")]
    [InlineData("=x")]
    [InlineData("a b=/")]
    [InlineData("renders=/no/such/folder/anywhere")]
    public void Roots_that_are_none_are_refused(string root) =>
        Assert.Throws<ArgumentException>(() => ServeOptions.ForServe("data", 0, "127.0.0.1", [root]));

    [Fact]
    public void A_root_called_crates_is_where_crates_go()
    {
        string folder = Directory.CreateTempSubdirectory("dune-crate-roots-").FullName;
        ServeOptions options = ServeOptions.ForServe(folder, 0, "127.0.0.1", [$"renders={folder}", $"crates={folder}"]);
        Assert.Equal(folder, options.CratesFolder);
        Assert.Equal(["renders"], options.Roots.Keys);
        Assert.Throws<ArgumentException>(() => ServeOptions.ForServe(folder, 0, "127.0.0.1", [$"a={folder}", $"A={folder}"]));
        Directory.Delete(folder);
    }

    [Fact]
    public void Fresh_throws_only_a_demo_away()
    {
        string folder = Directory.CreateTempSubdirectory("dune-crate-fresh-").FullName;
        File.WriteAllText(Path.Combine(folder, "diary.txt"), "dear");
        Assert.Throws<ArgumentException>(() => ServeOptions.ForDemo(folder, 0, fresh: true));
        Assert.True(File.Exists(Path.Combine(folder, "diary.txt")));
        Directory.Delete(folder, recursive: true);
    }
}
