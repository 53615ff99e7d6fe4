using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Bench;

/// <summary>
/// Every pixel of 1920×1080 files with 32 half channels, ZIP, against <c>oiiotool --stats</c> over the same files. Goal: six times as
/// fast, peak memory under 600 MiB. The pictures are the stand-in's, four times side by side.
/// </summary>
internal static class PixelBench
{
    private const int Files = 8, Width = 1920, Height = 1080, Channels = 32;

    public static void Run(string work)
    {
        string folder = Path.Combine(work, "pixels"), source = Path.Combine(work, "source");
        Directory.CreateDirectory(folder);
        StandInRenderer.Render(StandInPlan.For("KP010", FrameSet.Range(1001, 1002), Width / 2, Height / 2), source, null, []);
        for (int i = 0; i < Files; i++)
        {
            ExrWriter.Write(Path.Combine(folder, $"KP010_sub.{1001 + i}.exr"), Make(source, 1001 + i % 2));
        }

        string[] files = [.. Directory.GetFiles(folder).Order()];
        double packed = files.Sum(f => new FileInfo(f).Length) / 1048576.0, unpacked = (double)Files * Width * Height * Channels * 2 / 1048576;
        Console.WriteLine($"Pixel check, {Files} files of {Width} × {Height}, {Channels} half channels, ZIP: {packed:0} MiB packed, {unpacked:0} MiB unpacked");
        (Timed ours, Timed theirs) = Timed.Side(() => Dune("facts", folder, "--depth", "pixels", "--json"), () => Timed.Run("oiiotool", files.SelectMany(f => new[] { "--stats", f })), 3);
        Console.WriteLine($"  dune facts --depth pixels   {ours.Seconds,8:0.00} s   {unpacked / ours.Seconds,6:0} MiB/s unpacked   peak {ours.PeakMebibytes,5:0} MiB   (goal: under 600)");
        Console.WriteLine($"  oiiotool --stats            {theirs.Seconds,8:0.00} s   {unpacked / theirs.Seconds,6:0} MiB/s unpacked   peak {theirs.PeakMebibytes,5:0} MiB");
        Console.WriteLine($"  ratio                       {theirs.Seconds / ours.Seconds,8:0.0} ×   (goal: 6)");
    }

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

    private static ExrImage Make(string source, int frame)
    {
        var planes = ImmutableDictionary.CreateBuilder<string, float[]>();
        foreach (string layer in new[] { "sub", "kelp" })
        {
            using ExrFile file = ExrFile.Open(Path.Combine(source, layer, $"KP010_{layer}.{frame}.exr"));
            ExrImage image = ExrImage.Read(file, file.Parts[0], null, out _);
            foreach (ExrChannel channel in file.Parts[0].Channels)
            {
                if (planes.Count < Channels)
                {
                    planes[layer == "sub" ? channel.Name : $"{layer}_{channel.Name}"] = Tiled(image.Planes[channel.Name]);
                }
            }
        }

        PixelBox window = PixelBox.OfSize(Width, Height);
        return new ExrImage(new ExrPart(planes.Keys.Select(c => new ExrChannel(c, ChannelType.Half)), window, window, ExrCompression.Zip, []), planes.ToImmutable());
    }

    private static float[] Tiled(float[] quarter)
    {
        float[] whole = new float[Width * Height];
        for (int y = 0; y < Height; y++)
        {
            ReadOnlySpan<float> line = quarter.AsSpan(y % (Height / 2) * (Width / 2), Width / 2);
            line.CopyTo(whole.AsSpan(y * Width));
            line.CopyTo(whole.AsSpan(y * Width + Width / 2));
        }

        return whole;
    }
}
