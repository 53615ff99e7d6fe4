using System.Collections.Immutable;
using System.Diagnostics;
using System.IO.Compression;
using DuneCrate.Exr;
using DuneCrate.Planning.Model;

namespace DuneCrate.Bench;

/// <summary>
/// What each level of zlib costs and saves on the chunks of rendered frames, as they stand before they are packed: how the level that files
/// are written with was chosen.
/// </summary>
internal static class LevelsBench
{
    private const int Frames = 2;

    public static void Run(string work)
    {
        Console.WriteLine(
            "Levels of zlib, chunks of 1920 × 1080 × 32 channels, one thread: share of the unpacked bytes, MB a second; unpacking"
        );
        foreach (bool hasGrain in (bool[])[false, true])
        {
            string folder = Path.Combine(work, hasGrain ? "levels-grain" : "levels");
            Plan plan = BenchFrames.Plan(Frames);
            byte[][] chunks = [.. BenchFrames.Write(plan, folder, hasGrain: hasGrain).SelectMany(Unpacked)];
            double bytes = chunks.Sum(c => (double)c.Length);
            for (int level = 1; level <= 7; level++)
            {
                var options = new ZLibCompressionOptions { CompressionLevel = level };
                long start = Stopwatch.GetTimestamp();
                byte[][] packed = [.. chunks.Select(c => Packed(c, options))];
                double packing = Stopwatch.GetElapsedTime(start).TotalSeconds;
                start = Stopwatch.GetTimestamp();
                foreach (byte[] chunk in packed)
                {
                    using var zlib = new ZLibStream(new MemoryStream(chunk), CompressionMode.Decompress);
                    zlib.CopyTo(Stream.Null);
                }

                double unpacking = Stopwatch.GetElapsedTime(start).TotalSeconds;
                Console.WriteLine(
                    $"  {(hasGrain ? "grain" : "clean")} level {level}   {100 * packed.Sum(p => (double)p.Length) / bytes, 5:0.0} %   "
                        + $"{bytes / packing / 1e6, 5:0} MB/s   {bytes / unpacking / 1e6, 5:0} MB/s"
                );
            }
        }
    }

    private static byte[] Packed(byte[] chunk, ZLibCompressionOptions options)
    {
        using var packed = new MemoryStream();
        using (var zlib = new ZLibStream(packed, options, leaveOpen: true))
        {
            zlib.Write(chunk);
        }

        return packed.ToArray();
    }

    /// <summary>The chunks of a ZIP file before their bytes are put together again.</summary>
    private static IEnumerable<byte[]> Unpacked(string path)
    {
        ImmutableArray<long> table;
        using (ExrFile file = Disk.Exr(path))
        {
            table = file.ChunkTables[0];
        }

        using var reader = new BinaryReader(File.OpenRead(path));
        foreach (long at in table)
        {
            reader.BaseStream.Position = at + 4;
            using var zlib = new ZLibStream(new MemoryStream(reader.ReadBytes(reader.ReadInt32())), CompressionMode.Decompress);
            using var chunk = new MemoryStream();
            zlib.CopyTo(chunk);
            yield return chunk.ToArray();
        }
    }
}
