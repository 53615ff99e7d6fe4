using System.Text.Json.Nodes;
using DuneCrate.Crates.Recipes;

namespace DuneCrate.Crates.Tests.Converting;

/// <summary>Whoever is killed while sealing goes on where he stopped. KilledCommandTests kills a real process fifty times.</summary>
public sealed class KilledSealingTests(DriftShot shot) : IClassFixture<DriftShot>
{
    private const string Recipe = """{ "files": "per-pass", "compression": "zip", "types": { "light": "half" } }""";

    /// <summary>A number that no process has: above the most that Linux gives. Source: proc(5), kernel/pid_max.</summary>
    private const string NoProcess = "4194305";

    [Fact]
    public void What_was_done_is_not_done_again_and_what_was_half_done_is()
    {
        string into = shot["killed"],
            work = LeaveHalf(into, files: 6);
        string[] done =
        [
            .. File.ReadLines(Path.Combine(work, ".done")).Select(l => Path.Combine(work, (string)JsonNode.Parse(l)!["path"]!)),
        ];
        string torn = done[0];
        File.SetUnixFileMode(torn, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        File.WriteAllBytes(torn, File.ReadAllBytes(torn)[..^100]);
        File.WriteAllText(Path.Combine(work, "drift/nobody.exr"), "half a file");
        File.AppendAllText(Path.Combine(work, ".done"), """{"path":"drift/dri""");
        Dictionary<string, string> before = done.Skip(1).ToDictionary(f => Path.GetRelativePath(work, f), Node);

        string crate = shot.Seal(Recipe, into);
        Assert.Equal("", Tool.RunAny("sh", "-c", $"cd {crate} && sha256sum -c --quiet SHA256SUMS"));
        Assert.Equal([crate], Directory.GetFileSystemEntries(into));
        Assert.Equal(before, before.Keys.ToDictionary(f => f, f => Node(Path.Combine(crate, f))));
        Assert.Equal("", Tool.RunAny("sh", "-c", $"diff -r {shot.Seal(Recipe)}/drift {crate}/drift"));
        Assert.NotNull(CrateVerifier.Verify(Disk.Folder(crate), null, default).Manifest.Passes.First(p => p.Pass == "specular").Loss);
    }

    [Fact]
    public void What_was_done_otherwise_is_done_again()
    {
        string into = shot["otherwise"];
        LeaveHalf(into, files: 6);
        string crate = shot.Seal("""{ "files": "per-pass", "compression": "piz", "drop": ["specular"] }""", into);
        Assert.Contains("'piz'", Tool.Run("exrinfo", Path.Combine(crate, "drift/drift/drift.0046.exr")));
        Assert.False(Directory.Exists(Path.Combine(crate, "drift/drift_specular")));
        Assert.True(CrateVerifier.Verify(Disk.Folder(crate), null, default).IsWhole);
    }

    /// <summary>Leaves what a process leaves that is killed after so many files.</summary>
    private string LeaveHalf(string into, int files)
    {
        Directory.CreateDirectory(into);
        string during = shot[$"during{Path.GetFileName(into)}"],
            left = "";
        using var stop = new CancellationTokenSource();
        var progress = new Tell(p =>
        {
            if (p.Files >= files && left.Length == 0)
            {
                string name = Path.GetFileName(Directory.GetDirectories(during, ".*")[0]);
                left = Path.Combine(into, string.Join('.', name.Split('.').Select((piece, i) => i == 3 ? NoProcess : piece)));
                Tool.Run("cp", "-a", Path.Combine(during, name), left);
                stop.Cancel();
            }
        });
        Assert.ThrowsAny<OperationCanceledException>(() =>
            CrateBuilder.Seal(
                Disk.Contents(DriftShot.Plan, shot.Checked.Intake, CrateLayouts.ByLayer, CrateRecipe.Read(Recipe)),
                shot.Checked.Report with
                {
                    Findings = [],
                },
                Disk.Folder(during),
                Guid.NewGuid(),
                progress,
                stop.Token
            )
        );
        Assert.Empty(Directory.GetFileSystemEntries(during));
        return left;
    }

    /// <summary>The number of a file's inode: another one means that it was written anew.</summary>
    private static string Node(string file) => Tool.Run("stat", "-c", "%i", file);

    private sealed class Tell(Action<CrateProgress> report) : IProgress<CrateProgress>
    {
        public void Report(CrateProgress value) => report(value);
    }
}
