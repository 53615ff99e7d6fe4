using System.Buffers.Binary;
using System.Text;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Planning.Model;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Bench.Trial;

/// <summary>
/// Headers with numbers that are none: every attribute type that holds fractions, with NaN, infinities, subnormals and extremes, in files
/// that oiiotool writes. Each gives facts or a problem, pictures answer, sealing ends in words, and another shot is checked in its time.
/// </summary>
internal static class HeaderTrials
{
    private const int Seed = 20261201;

    private static readonly float[] Numbers =
    [
        float.NaN,
        float.PositiveInfinity,
        float.NegativeInfinity,
        float.Epsilon,
        -float.Epsilon,
        float.MaxValue,
        float.MinValue,
        1e38f,
        -0f,
        0f,
    ];

    /// <summary>The shot whose folder holds the files.</summary>
    public static Plan Plan => StandInPlan.Create("HD010", FrameSet.Single(1), 40, 36);

    public static async Task<(int, IReadOnlyCollection<string>)> RunAsync(TrialServer server, int files)
    {
        string folder = Path.Combine(server.Renders, "HD010");
        Directory.CreateDirectory(folder);
        byte[] seed = Seeded(server.Renders);
        (int At, int Floats, int Size)[] fields = [.. Fields(seed)];
        for (int i = 0; i < files; i++)
        {
            File.WriteAllBytes(Path.Combine(folder, $"h.{i:00000}.exr"), Mutated(seed, fields, new Random(Seed + i)));
        }

        List<string> wrong = [];
        await server.CheckAsync("HD010", 1800);
        await using DuneCrateContext database = server.Database();
        CheckRow check = await database
            .Checks.AsNoTracking()
            .Where(c => database.Shots.Any(s => s.Id == c.ShotId && s.Code == "HD010"))
            .OrderByDescending(c => c.Id)
            .FirstAsync();
        if (check.State != JobState.Done)
        {
            wrong.Add($"the check is {check.State}: {check.Problem}");
        }

        (int status, string report) = await server.GetAsync("/KELP/HD010/check?handler=Report");
        if (status != 200 || !report.Contains("the header field", StringComparison.Ordinal))
        {
            wrong.Add($"the report answers {status}, or names no field");
        }

        foreach (string page in (string[])["/KELP/HD010/look", "/KELP/HD010/check", "/KELP/HD010/seen?layer=h&pass=beauty&frame=1", "/"])
        {
            (int answer, _) = await server.GetAsync(page);
            if (answer >= 500)
            {
                wrong.Add($"{page} answers {answer}");
            }
        }

        await server.PostAsync("/KELP/HD010/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        await server.UntilAsync("/KELP/HD010/crate", text => !text.Contains("being sealed<", StringComparison.Ordinal), 1800);
        await server.CheckAsync("KP010", 60);
        Directory.Delete(folder, recursive: true);
        return (files, wrong);
    }

    /// <summary>A small picture with an attribute of each sort that oiiotool writes.</summary>
    private static byte[] Seeded(string work)
    {
        string path = Path.Combine(work, "seed.exr");
        string identity = "1,0,0,0,0,1,0,0,0,0,1,0,0,0,0,1";
        Timed.Run(
            "oiiotool",
            [
                "--pattern",
                "constant:color=0.1,0.2,0.3",
                "40x36",
                "3",
                "-d",
                "half",
                "--attrib:type=float",
                "renderSeconds",
                "12.5",
                "--attrib:type=float",
                "focalLength",
                "35",
                "--attrib:type=matrix",
                "worldToCamera",
                identity,
                "--attrib:type=matrix",
                "worldToScreen",
                identity,
                "--attrib:type=vector",
                "lightPlace",
                "1,2,3",
                "--attrib:type=float[2]",
                "range",
                "1,2",
                "--attrib:type=float[8]",
                "chromaticities",
                "0.64,0.33,0.3,0.6,0.15,0.06,0.3127,0.329",
                "--attrib:type=rational",
                "FramesPerSecond",
                "24/1",
                "-o",
                path,
            ]
        );
        byte[] bytes = File.ReadAllBytes(path);
        File.Delete(path);
        return bytes;
    }

    /// <summary>Where the numbers of a header stand. Source: <em>OpenEXR File Layout</em>.</summary>
    private static IEnumerable<(int At, int Floats, int Size)> Fields(byte[] file)
    {
        for (int at = 8; file[at] != 0; )
        {
            int type = Array.IndexOf(file, (byte)0, at) + 1,
                size = Array.IndexOf(file, (byte)0, type) + 1,
                length = BinaryPrimitives.ReadInt32LittleEndian(file.AsSpan(size));
            string name = Encoding.ASCII.GetString(file, type, size - type - 1);
            if (name is "float" or "v2f" or "v3f" or "m33f" or "m44f" or "chromaticities" or "rational" or "box2f" or "floatvector")
            {
                yield return (size + 4, length / 4, 4);
            }

            at = size + 4 + length;
        }
    }

    private static byte[] Mutated(byte[] seed, (int At, int Floats, int Size)[] fields, Random random)
    {
        byte[] changed = [.. seed];
        for (int n = random.Next(1, 4); n > 0; n--)
        {
            (int at, int floats, int size) = fields[random.Next(fields.Length)];
            float number = random.Next(4) == 0 ? BitConverter.Int32BitsToSingle(random.Next()) : Numbers[random.Next(Numbers.Length)];
            BinaryPrimitives.WriteSingleLittleEndian(changed.AsSpan(at + size * random.Next(floats)), number);
        }

        return changed;
    }
}
