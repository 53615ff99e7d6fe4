using System.Collections.Immutable;
using System.IO.Compression;
using DuneCrate.Exr;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Bench;

/// <summary>
/// Every pixel of files of 32 channels, all statistics, measures, the rebuild and all pixel rules, as a whole command: against <c>oiiotool
/// --stats</c> over the same
/// files, and against only reading and inflating every chunk on two threads.
/// </summary>
internal static class PixelBench
{
    private const int Frames = 24;

    private static readonly string[] OtherCodecs = ["piz", "pxr24", "b44a", "dwaa"];

    public static void Run(string work)
    {
        string zip = Path.Combine(work, "zip");
        Plan plan = BenchFrames.Plan(Frames);
        string[] files = BenchFrames.Write(plan, zip);
        Console.WriteLine($"Pixels: 1920 × 1080, 31 half channels and a float Z; whole commands; {Environment.ProcessorCount} cores");
        Console.WriteLine("  codec   files     ours    oiiotool    ratio    goal     peak     their peak");
        (Timed ours, Timed theirs) = Timed.Side(() => Check(zip), () => Stats(files), 2);
        Row("zip", files.Length, ours, theirs, 10);
        Ledger.Note("peak memory of a pixel check, 1080p", ours.PeakMebibytes, "MiB", 300, isMoreBetter: false);
        (Timed again, Timed inflate) = Timed.Side(() => Check(zip), () => Timed.Run(Environment.ProcessPath!, Own, "inflate", zip), 3);
        Console.WriteLine(
            $"  zip     {files.Length, 5} {again.Seconds, 7:0.00} s   {inflate.Seconds, 7:0.00} s "
                + $"{again.Seconds / inflate.Seconds, 7:0.00} ×       2    against reading and inflating only, two threads"
        );
        Ledger.Note("pixel check of 24 ZIP frames against inflating alone", again.Seconds / inflate.Seconds, "×", 2, isMoreBetter: false);
        string grainy = Path.Combine(work, "grainy");
        string[] noisy = BenchFrames.Write(BenchFrames.Plan(Frames / 2), grainy, zip + "-source", hasGrain: true);
        (ours, theirs) = Timed.Side(() => Check(grainy), () => Stats(noisy), 2);
        Row("noisy", noisy.Length, ours, theirs, 9);
        Directory.Delete(grainy, recursive: true);
        One(files[0]);
        foreach (string codec in OtherCodecs)
        {
            string folder = Path.Combine(work, codec);
            Directory.CreateDirectory(Path.Combine(folder, "sub"));
            Plan few = BenchFrames.Plan(Frames, compression: codec);
            string[] some = [.. files.Select(f => Path.Combine(folder, "sub", Path.GetFileName(f)))];
            foreach ((string from, string to) in files.Zip(some))
            {
                Timed.Run("oiiotool", from, "-d", "half", "-d", "Z=float", "--compression", codec, "-o", to);
            }

            File.WriteAllText(Path.Combine(folder, "plan.json"), PlanDocument.Write(few));
            (ours, theirs) = Timed.Side(() => Check(folder), () => Stats(some), 1);
            Row(codec, some.Length, ours, theirs, codec == "dwaa" ? 4 : 5);
        }

        Large(work, files[0]);
    }

    /// <summary>Reads and inflates every chunk of the ZIP files below a folder, on two threads.</summary>
    public static void Inflate(string folder)
    {
        Parallel.ForEach(
            Directory.GetFiles(folder, "*.exr", SearchOption.AllDirectories).Order(),
            new ParallelOptions { MaxDegreeOfParallelism = 2 },
            path =>
            {
                ImmutableArray<long> table;
                int unpackedBytes;
                using (ExrFile file = Disk.Exr(path))
                {
                    (table, unpackedBytes) = (file.ChunkTables[0], file.LargestBand(file.Parts[0]));
                }

                using FileStream stream = File.OpenRead(path);
                using var reader = new BinaryReader(stream);
                byte[] unpacked = new byte[unpackedBytes];
                foreach (long at in table)
                {
                    stream.Position = at + 4;
                    using var zlib = new ZLibStream(new MemoryStream(reader.ReadBytes(reader.ReadInt32())), CompressionMode.Decompress);
                    zlib.ReadAtLeast(unpacked, unpacked.Length, throwOnEndOfStream: false);
                }
            }
        );
    }

    private static void Large(string work, string sourceFile)
    {
        const int Times = 4,
            Channels = 16;
        string folder = Path.Combine(work, "8k");
        Directory.CreateDirectory(folder);
        using ExrFile file = Disk.Exr(sourceFile);
        ExrImage small = ExrImage.Read(
            file,
            file.Parts[0],
            [.. file.Parts[0].Channels.Where(c => c.Type == ExrPixelType.Half).Take(Channels).Select(c => c.Name)],
            out _,
            default
        );
        PixelBox window = PixelBox.OfSize(small.Width * Times, small.Height * Times);
        var planes = small.Planes.ToImmutableDictionary(p => p.Key, p => Tiled(p.Value, small.Width, small.Height, Times));
        var part = new ExrPart(
            planes.Keys.Order().Select(c => new ExrChannel(c, ExrPixelType.Half)),
            window,
            window,
            ExrCompression.Zip,
            []
        );
        for (int i = 0; i < 2; i++)
        {
            ExrWriter.Write(Disk.File(Path.Combine(folder, $"big.{i:0000}.exr")), new ExrImage(part, planes));
        }

        Timed large = Dune("check", folder, "--depth", "pixels", "--json", "-");
        Console.WriteLine(
            $"  8K: 2 files of {window.Width} × {window.Height}, {Channels} half channels: {large.Seconds:0.0} s, peak "
                + $"{large.PeakMebibytes:0} MiB   (goal: under 1,536)"
        );
        Ledger.Note("peak memory of a pixel check, 8K", large.PeakMebibytes, "MiB", 1536, isMoreBetter: false);
    }

    private static float[] Tiled(float[] plane, int width, int height, int times)
    {
        float[] whole = new float[plane.Length * times * times];
        for (int y = 0; y < height * times; y++)
        {
            for (int k = 0; k < times; k++)
            {
                plane.AsSpan(y % height * width, width).CopyTo(whole.AsSpan((y * times + k) * width));
            }
        }

        return whole;
    }

    /// <summary>One file as a whole command, by the verbs that start at once where they are built.</summary>
    private static void One(string file)
    {
        bool isNative = File.Exists(Path.Combine(Path.GetDirectoryName(Command)!, "build", "native-bin", "dune-native"));
        (Timed header, Timed pixels) = Timed.Side(
            () => Dune("facts", file, "--json"),
            () => Dune("facts", file, "--json", "--depth", "pixels"),
            9
        );
        Console.WriteLine(
            $"  one file, whole command{(isNative ? ", native" : "")}: header {header.Seconds:0.000} s, pixels {pixels.Seconds:0.000} s"
        );
        Ledger.Note($"header facts of one file, whole command", header.Seconds, "s", isNative ? 0.05 : 0.2, isMoreBetter: false);
        Ledger.Note($"pixel facts of one file, whole command", pixels.Seconds, "s", isNative ? 0.3 : 0.65, isMoreBetter: false);
    }

    private static void Row(string codec, int files, Timed ours, Timed theirs, double goal)
    {
        Ledger.Note($"pixel check of {files} {codec} frames against oiiotool --stats", theirs.Seconds / ours.Seconds, "×", goal);
        Console.WriteLine(
            $"  {codec, -7} {files, 5} {ours.Seconds, 7:0.00} s   {theirs.Seconds, 7:0.00} s {theirs.Seconds / ours.Seconds, 7:0.0} "
                + $"× {goal, 7:0}    {ours.PeakMebibytes, 5:0} MiB   {theirs.PeakMebibytes, 5:0} MiB"
        );
    }

    private static Timed Check(string folder) =>
        Dune("check", folder, "--plan", Path.Combine(folder, "plan.json"), "--depth", "pixels", "--json", "-");

    private static Timed Stats(string[] files) => Timed.Run("oiiotool", files.SelectMany(f => new[] { "--stats", f }));

    /// <summary>This program's own assembly, for runs as a process of its own.</summary>
    private static string Own => typeof(PixelBench).Assembly.Location;

    /// <summary>Runs the built command line as <c>./dune</c> does.</summary>
    public static Timed Dune(params string[] arguments) => Timed.Run(Command, arguments);

    /// <summary>Path of <c>./dune</c>.</summary>
    public static string Command
    {
        get
        {
            string root = AppContext.BaseDirectory;
            while (!File.Exists(Path.Combine(root, "dune")))
            {
                root = Path.GetDirectoryName(root)!;
            }

            return Path.Combine(root, "dune");
        }
    }
}
