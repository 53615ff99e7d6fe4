using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store.Rows;

namespace DuneCrate.Bench.Trial;

/// <summary>
/// Files of every format with some bytes changed, cut off or doubled, taken in by the server: each gives facts or a problem.
/// </summary>
internal static class MutationTrials
{
    private const int Seed = 20261126;

    /// <summary>What is mutated: pictures that Debian's oiiotool writes, by format.</summary>
    public static readonly string[] Formats = ["exr", "png", "tif", "jpg", "tga"];

    /// <summary>The shot whose folder holds the files of a format.</summary>
    public static Plan PlanOf(string format) =>
        StandInPlan.Create($"MU{Array.IndexOf(Formats, format)}00", Foundation.Frames.FrameSet.Single(1), 40, 36);

    public static async Task<(int, IReadOnlyCollection<string>)> RunAsync(TrialServer server, string format, int files)
    {
        string code = PlanOf(format).Shot.Code,
            folder = Path.Combine(server.Renders, code);
        Directory.CreateDirectory(folder);
        byte[][] seeds = [.. Seeds(server.Renders, format)];
        for (int i = 0; i < files; i++)
        {
            File.WriteAllBytes(Path.Combine(folder, $"m.{i:00000}.{format}"), Mutated(seeds[i % seeds.Length], new Random(Seed + i)));
        }

        await server.CheckAsync(code, 1800);
        var wrong = new List<string>();
        CheckRow check = await server.CheckOfAsync(code);
        if (check.State != JobState.Done)
        {
            wrong.Add($"the check is {check.State}: {check.Problem}");
        }

        (int status, string facts) = await server.GetAsync($"/KELP/{code}/check?handler=Report");
        if (status != 200 || !facts.Contains($"\"files\": {files}", StringComparison.Ordinal))
        {
            wrong.Add($"the report answers {status} and does not speak of {files} files");
        }

        Directory.Delete(folder, recursive: true);
        return (files, wrong);
    }

    private static IEnumerable<byte[]> Seeds(string work, string format)
    {
        string[][] ways = format switch
        {
            "exr" =>
            [
                .. from compression in (string[])["none", "rle", "zips", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"]
                from tiled in (bool[])[false, true]
                select (string[])["-d", "half", "--compression", compression, .. tiled ? ["--tile", "16", "16"] : Array.Empty<string>()],
            ],
            "png" =>
            [
                ["-d", "uint8"],
                ["-d", "uint16"],
            ],
            "tif" =>
            [
                .. from type in (string[])["uint8", "uint16", "float"]
                from compression in (string[])["none", "lzw", "zip", "packbits"]
                select (string[])["-d", type, "--compression", compression],
                ["-d", "uint8", "--tile", "16", "16"],
            ],
            "jpg" =>
            [
                ["-d", "uint8"],
                ["-d", "uint8", "--quality", "40"],
            ],
            _ =>
            [
                ["-d", "uint8", "--compression", "none"],
                ["-d", "uint8", "--compression", "rle"],
            ],
        };
        foreach (string[] way in ways)
        {
            string path = Path.Combine(work, $"seed.{format}");
            Timed.Run(
                "oiiotool",
                [
                    "--pattern",
                    "noise:type=gaussian:mean=0.5:stddev=0.2",
                    "40x36",
                    "3",
                    "--fill:color=0.2,0.4,0.6",
                    "20x18+4+4",
                    .. way,
                    "-o",
                    path,
                ]
            );
            yield return File.ReadAllBytes(path);
            File.Delete(path);
        }
    }

    private static byte[] Mutated(byte[] bytes, Random random)
    {
        byte[] changed = [.. bytes];
        switch (random.Next(5))
        {
            case 0:
                return changed[..random.Next(changed.Length)];
            case 1:
                int from = random.Next(changed.Length),
                    length = random.Next(1, 200);
                return [.. changed[..from], .. changed[from..Math.Min(changed.Length, from + length)], .. changed[from..]];
            case 2:
                changed.AsSpan(random.Next(changed.Length / 2), random.Next(1, changed.Length / 2)).Fill((byte)random.Next(256));
                return changed;
            default:
                for (int n = random.Next(1, 12); n > 0; n--)
                {
                    // Headers are small and say the most.
                    changed[random.Next(2) == 0 ? random.Next(Math.Min(600, changed.Length)) : random.Next(changed.Length)] = (byte)
                        random.Next(256);
                }

                return changed;
        }
    }
}
