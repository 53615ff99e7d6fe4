using System.Diagnostics;
using DuneCrate.Crates;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Cli.Tests;

/// <summary>Sealing with conversion, killed at random moments as a process: at every moment the crate is whole, or not there.</summary>
public sealed class KilledCommandTests : IDisposable
{
    private const int Kills = 50,
        Lanes = 2,
        MostMilliseconds = 700;

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-kill-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    [Fact]
    public void Fifty_kills_leave_a_whole_crate_or_none()
    {
        string frames = Path.Combine(_folder, "frames"),
            recipe = Path.Combine(_folder, "recipe.json");
        Assert.Equal(0, CommandLine.Dune("stand-in", "render", "--to", frames, "--frames", "1001-1002", "--size", "96x54").Code);
        File.WriteAllText(recipe, """{ "files": "per-pass", "compression": "zips", "types": { "light": "float" } }""");
        string[] Command(string crates) =>
            ["crate", "--plan", Path.Combine(frames, "plan.json"), "--from", frames, "--to", crates, "--recipe", recipe];

        int caught = 0;
        Parallel.For(
            0,
            Lanes,
            lane =>
            {
                string crates = Path.Combine(_folder, $"crates{lane}");
                var random = new Random(lane);
                for (int i = 0; i < Kills / Lanes; i++)
                {
                    Kill(Command(crates), crates, random.Next(MostMilliseconds));
                    foreach (string whole in Directory.Exists(crates) ? Directory.GetDirectories(crates, "KP010_crate_v*") : [])
                    {
                        Assert.True(CrateVerifier.Verify(StorageRoot.At(whole).Top, null, default).IsWhole);
                        Directory.Delete(whole, recursive: true);
                    }

                    Interlocked.Add(ref caught, Directory.Exists(crates) ? Directory.GetDirectories(crates, ".*").Length : 0);
                }

                (int code, string output, string error) = CommandLine.Dune(Command(crates));
                Assert.True(code == 0, error);
                Assert.True(CrateVerifier.Verify(StorageRoot.At(output.Trim()).Top, null, default).IsWhole);
                Assert.Equal([output.Trim()], Directory.GetFileSystemEntries(crates));
            }
        );
        Assert.True(caught > 0, "No kill came while anything was being written.");
    }

    /// <summary>Starts a sealing and kills it so many milliseconds after it began to write, or lets it end when it is quicker.</summary>
    private static void Kill(string[] command, string crates, int after)
    {
        using Process process = Process.Start(
            new ProcessStartInfo("dotnet", command.Prepend(Path.Combine(AppContext.BaseDirectory, "DuneCrate.Cli.dll")))
            {
                RedirectStandardError = true,
                RedirectStandardOutput = true,
            }
        )!;
        string own = $".{process.Id}.";
        while (
            !process.WaitForExit(2)
            && !(Directory.Exists(crates) && Directory.GetDirectories(crates, ".*").Any(d => d.Contains(own, StringComparison.Ordinal)))
        ) { }

        process.WaitForExit(after);
        process.Kill();
        process.WaitForExit();
    }
}
