using System.Collections.Concurrent;
using System.Diagnostics;
using System.Text.Json;
using DuneCrate.Checking.Intake;
using DuneCrate.Imaging;
using NetVips;

namespace DuneCrate.Exr.Tests.Images;

/// <summary>
/// 20,000 files with some bytes changed, cut off or doubled, over every compression, layout and format, always the same ones: each gives
/// facts or a problem.
/// </summary>
[Collection(Alone.Name)]
public sealed class MutatedFilesTests : IDisposable
{
    private const int Files = 20_000,
        Seed = 20261125;
    private const long MostMemory = 512L << 20;

    private readonly TempFolder _folder = new();

    [Fact]
    public void Twenty_thousand_mutated_files_give_facts_or_a_problem()
    {
        (string Name, byte[] Bytes)[] seeds = [.. Seeds()];
        foreach (string compression in ToolPictures.Compressions)
        {
            Assert.Contains(seeds, s => s.Name.Contains(compression, StringComparison.Ordinal));
        }

        var broken = new ConcurrentBag<string>();
        GC.Collect();
        long slowest = 0,
            before = Environment.WorkingSet,
            most = 0;
        int unread = 0,
            damaged = 0;
        Parallel.For(
            0,
            Files,
            new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount },
            i =>
            {
                (string name, byte[] bytes) = seeds[i % seeds.Length];
                string path = _folder[$"{Environment.CurrentManagedThreadId}{Path.GetExtension(name)}"];
                File.WriteAllBytes(path, Mutated(bytes, new Random(Seed + i)));
                long start = Stopwatch.GetTimestamp();
                try
                {
                    FileFacts facts = Disk.Facts(path, new FactsRequest(FactsDepth.Pixels), new ReadLimits { SecondsPerFile = 20 });
                    Interlocked.Add(ref unread, facts.Readable ? 0 : 1);
                    Interlocked.Add(ref damaged, facts is { Readable: true, Problem: not null } ? 1 : 0);
                    JsonSerializer.SerializeToUtf8Bytes(facts, FactsDocument.Compact);
                    if (!facts.Readable && facts.Problem is null)
                    {
                        broken.Add($"{i} of {name}: neither facts nor a problem");
                    }
                }
                catch (Exception e)
                {
                    broken.Add($"{i} of {name}: {e.GetType().Name} {e.Message}");
                }

                Raise(ref slowest, Stopwatch.GetElapsedTime(start).Ticks);
                if (i % 16 == 0)
                {
                    Raise(ref most, Environment.WorkingSet);
                }
            }
        );
        Assert.Empty(broken);
        Assert.True(TimeSpan.FromTicks(slowest) < TimeSpan.FromSeconds(20), $"the slowest took {TimeSpan.FromTicks(slowest)}");
        Assert.True(
            unread > Files / 20 && damaged > Files / 20,
            $"{unread} could not be opened and {damaged} were damaged: too few for the mutations to mean anything"
        );
        Assert.True(most - before < MostMemory, $"memory grew from {before >> 20} to {most >> 20} MiB");
    }

    /// <summary>Keeps the greater of two numbers, from any thread.</summary>
    private static void Raise(ref long greatest, long value)
    {
        for (long known = greatest; value > known && Interlocked.CompareExchange(ref greatest, value, known) != known; known = greatest) { }
    }

    /// <summary>
    /// Small pictures: the committed fixtures, which the reference library wrote, and one of each kind that we or libvips write.
    /// </summary>
    private IEnumerable<(string Name, byte[] Bytes)> Seeds()
    {
        foreach (string path in ExrFixtureTests.All.Concat(ToolSeeds()))
        {
            yield return (Path.GetFileName(path), File.ReadAllBytes(path));
        }

        foreach (string compression in new[] { "none", "rle", "zips", "zip", "piz" })
        {
            using var stream = new MemoryStream();
            ExrWriter.Write(
                stream,
                TestImages.Make(
                    PixelBox.OfSize(40, 36),
                    ExrCompression.Find(compression)!,
                    ("R", ChannelType.Half),
                    ("Z", ChannelType.Float),
                    ("object_id.Y", ChannelType.UInt)
                )
            );
            yield return ($"own.{compression}.exr", stream.ToArray());
        }

        using Image colour = Image
            .Gaussnoise(40, 36, sigma: 40, mean: 128, seed: 3)
            .Bandjoin(Image.Grey(40, 36, uchar: true), Image.Black(40, 36) + 200);
        using Image bytes8 = colour.Cast(Enums.BandFormat.Uchar),
            bytes16 = (colour * 256).Cast(Enums.BandFormat.Ushort),
            floats = colour.Cast(Enums.BandFormat.Float);
        yield return ("a.png", bytes8.PngsaveBuffer());
        yield return ("b.png", bytes16.PngsaveBuffer(interlace: true));
        yield return ("a.jpg", bytes8.JpegsaveBuffer());
        yield return ("a.tif", bytes8.TiffsaveBuffer(compression: Enums.ForeignTiffCompression.Lzw));
        yield return (
            "b.tif",
            floats.TiffsaveBuffer(compression: Enums.ForeignTiffCompression.Deflate, tile: true, tileWidth: 16, tileHeight: 16)
        );
        yield return (
            "a.tga",
            [0, 0, 10, 0, 0, 0, 0, 0, 0, 0, 0, 0, 40, 0, 36, 0, 24, 0, .. Enumerable.Repeat<byte[]>([0xa7, 1, 2, 3], 36).SelectMany(b => b)]
        );
    }

    /// <summary>A small picture in every compression, in lines and in tiles.</summary>
    private IEnumerable<string> ToolSeeds()
    {
        string[] picture =
        [
            "--pattern",
            "fill:topleft=0,0.1,0.2,1:topright=4,2,1,1:bottomleft=0.5,0.5,0.5,0.2:bottomright=-1,9,30,0",
            "40x36",
            "4",
            "--fill:color=0.25,0.5,1,1",
            "12x9+20+11",
            "-d",
            "half",
            "-d",
            "A=float",
        ];
        string[] files = [.. ToolPictures.Compressions.Select(c => _folder[$"seed.{c}.exr"])],
            tiles = [.. ToolPictures.Compressions.Select(c => _folder[$"seed.{c}.tiles.exr"])];
        Tool.Oiio([.. picture, .. ToolPictures.Compressions.SelectMany((c, i) => new[] { "--compression", c, "-o", files[i] })]);
        Tool.Oiio([
            .. picture,
            "--tile",
            "16",
            "16",
            .. ToolPictures.Compressions.SelectMany((c, i) => new[] { "--compression", c, "-o", tiles[i] }),
        ]);
        return files.Concat(tiles);
    }

    private static byte[] Mutated(byte[] bytes, Random random)
    {
        byte[] changed = [.. bytes];
        switch (random.Next(10))
        {
            case 0:
                return changed[..random.Next(changed.Length)];
            case 1:
                int from = random.Next(changed.Length),
                    length = random.Next(Math.Min(64, changed.Length - from));
                return [.. changed[..(from + length)], .. changed[from..]];
            default:
                for (int k = random.Next(1, 6); k > 0; k--)
                {
                    int at = random.Next(random.Next(2) == 0 ? Math.Min(600, changed.Length) : changed.Length);
                    changed[at] = random.Next(3) switch
                    {
                        0 => 0xff,
                        1 => 0,
                        _ => (byte)random.Next(256),
                    };
                }

                return changed;
        }
    }

    public void Dispose() => _folder.Dispose();
}
