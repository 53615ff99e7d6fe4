using System.Diagnostics;
using DuneCrate.Core.Crates;
using DuneCrate.Core.Storage;

namespace DuneCrate.Web.Tests;

/// <summary>Sealing with conversion, killed at random moments as a process: at every moment the crate is whole, or not there.</summary>
public sealed class KilledCommandTests : IDisposable
{
    private const int Kills = 50;

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-kill-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void Fifty_kills_leave_a_whole_crate_or_none()
    {
        string frames = Path.Combine(_folder, "frames"),
            crates = Path.Combine(_folder, "crates"),
            recipe = Path.Combine(_folder, "recipe.json");
        Assert.Equal(0, CommandLineTests.Dune("stand-in", "render", "--to", frames, "--frames", "1001-1002", "--size", "96x54").Code);
        File.WriteAllText(recipe, """{ "files": "per-pass", "compression": "zips", "types": { "light": "float" } }""");
        string[] command =
        [
            Path.Combine(AppContext.BaseDirectory, "DuneCrate.Cli.dll"),
            "crate",
            "--plan",
            Path.Combine(frames, "plan.json"),
            "--from",
            frames,
            "--to",
            crates,
            "--recipe",
            recipe,
        ];
        // The kills fall into the time that a whole sealing takes here; the first half of it is a process that starts.
        var watch = Stopwatch.StartNew();
        Assert.Equal(0, CommandLineTests.Dune(command[1..]).Code);
        int took = (int)watch.ElapsedMilliseconds;
        Directory.Delete(crates, recursive: true);
        var random = new Random(16);
        int whole = 0,
            withHalf = 0;
        for (int i = 0; i < Kills; i++)
        {
            using (
                Process process = Process.Start(
                    new ProcessStartInfo("dotnet", command) { RedirectStandardError = true, RedirectStandardOutput = true }
                )!
            )
            {
                Thread.Sleep(random.Next(took / 2, took));
                process.Kill();
                process.WaitForExit();
            }

            foreach (string sealedCrate in Directory.Exists(crates) ? Directory.GetDirectories(crates, "KP010_crate_v*") : [])
            {
                Assert.True(CrateVerifier.Verify(StorageRoot.At(sealedCrate).Top, null, default).IsWhole);
                Directory.Delete(sealedCrate, recursive: true);
                whole++;
            }

            withHalf += Directory.Exists(crates) && Directory.GetDirectories(crates, ".*").Length > 0 ? 1 : 0;
        }

        Assert.True(whole + withHalf > 0, "No kill came while anything was being written.");
        (int code, string output, string error) = CommandLineTests.Dune(command[1..]);
        Assert.True(code == 0, error);
        Assert.True(CrateVerifier.Verify(StorageRoot.At(output.Trim()).Top, null, default).IsWhole);
        Assert.Equal([output.Trim()], Directory.GetFileSystemEntries(crates));
    }
}
