using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Tests.Pictures;

/// <summary>Planes that are kept on disk come back, and what is damaged is said to be.</summary>
public sealed class PlanesFileTests : IDisposable
{
    private readonly TempFolder _folder = new();

    private PicturePlanes Shrunk(int shrink, int bands)
    {
        string file = _folder[$"noise{shrink}.exr"];
        if (!File.Exists(file))
        {
            Tool.Oiio("--create", "97x61", "3", "--noise:type=gaussian:mean=0.4:stddev=0.1:seed=5", "-d", "half", "-o", file);
        }

        PictureLines Open() => PictureLines.Open(Disk.File(file), "exr", ["R", "G", "B"], ReadLimits.Default, null);
        using PictureLines lines = Open();
        return bands == 1
            ? PicturePlanes.Read(lines, shrink, isMean: true, null, default)
            : PicturePlanes.ReadInBands(Open, bands, shrink, isMean: true, lines.Window, default);
    }

    [Theory]
    [InlineData(1)]
    [InlineData(4)]
    [InlineData(7)]
    public void Bands_side_by_side_are_the_whole(int shrink)
    {
        PicturePlanes one = Shrunk(shrink, 1);
        foreach (int bands in (int[])[2, 3, 8])
        {
            PicturePlanes many = Shrunk(shrink, bands);
            Assert.Equal((one.Window, one.Width, one.Height), (many.Window, many.Width, many.Height));
            Assert.All(one.Planes, p => Assert.Equal(p.Value, many.Planes[p.Key]));
        }
    }

    /// <summary>oiiotool's box filter over whole blocks is the mean of their pixels.</summary>
    [Fact]
    public void Shrunk_pictures_are_those_of_oiiotool()
    {
        string file = _folder["whole.exr"],
            theirs = _folder["theirs.exr"];
        Tool.Oiio("--create", "96x64", "1", "--noise:type=gaussian:mean=0.4:stddev=0.1:seed=6", "--chnames", "Y", "-d", "half", "-o", file);
        Tool.Oiio(file, "--resize:filter=box", "24x16", "-d", "float", "-o", theirs);
        float[] Plane(string path, int shrink)
        {
            using PictureLines lines = PictureLines.Open(Disk.File(path), "exr", ["Y"], ReadLimits.Default, null);
            return PicturePlanes.Read(lines, shrink, isMean: true, null, default).Planes["Y"];
        }

        float[] ours = Plane(file, 4),
            wanted = Plane(theirs, 1);
        Assert.Equal(wanted.Length, ours.Length);
        for (int i = 0; i < ours.Length; i++)
        {
            Assert.Equal(wanted[i], ours[i], 4);
        }
    }

    [Fact]
    public void Planes_come_back()
    {
        PicturePlanes planes = Shrunk(2, 1) with
        {
            Problem = "lines 3 to 9 are lost",
            Lost = [.. Enumerable.Range(0, 31).Select(y => y is 2 or 3)],
        };
        foreach (bool isLight in (bool[])[true, false])
        {
            using var kept = new MemoryStream();
            PlanesFile.Write(kept, planes, isLight);
            kept.Position = 0;
            PicturePlanes back = PlanesFile.Read(kept, 1 << 20);
            Assert.Equal((planes.Window, planes.Shrink, planes.Problem), (back.Window, back.Shrink, back.Problem));
            Assert.Equal(planes.Lost.ToArray(), back.Lost.ToArray());
            Assert.All(planes.Planes, p => Assert.Equal(isLight ? [.. p.Value.Select(v => (float)(Half)v)] : p.Value, back.Planes[p.Key]));
            Assert.All(PlanesFile.AsKept(planes, isLight).Planes, p => Assert.Equal(p.Value, back.Planes[p.Key]));
        }
    }

    /// <summary>A dictionary's order is another in every process; that of the file counts.</summary>
    [Fact]
    public void Channels_come_back_in_whatever_order_they_were_written()
    {
        string[][] orders =
        [
            ["R", "G", "B"],
            ["B", "G", "R"],
            ["G", "B", "R"],
        ];
        foreach (string[] names in orders)
        {
            using var kept = new MemoryStream();
            using (var head = new BinaryWriter(kept, System.Text.Encoding.UTF8, leaveOpen: true))
            {
                head.Write("dune-crate.planes/1");
                foreach (int number in (int[])[0, 0, 0, 0, 1])
                {
                    head.Write(number);
                }

                head.Write(false);
                head.Write("");
                head.Write(0);
                head.Write(false);
                head.Write(3);
                Array.ForEach(names, head.Write);
            }

            using (var packed = new System.IO.Compression.ZLibStream(kept, System.IO.Compression.CompressionMode.Compress, leaveOpen: true))
            {
                Array.ForEach(names, n => packed.Write(BitConverter.GetBytes((float)n[0])));
            }

            kept.Position = 0;
            Assert.All(PlanesFile.Read(kept, 1 << 20).Planes, p => Assert.Equal([p.Key[0]], p.Value));
        }
    }

    /// <summary>A sample that half cannot hold is not made infinite.</summary>
    [Fact]
    public void Very_bright_samples_stay_numbers()
    {
        var planes = new PicturePlanes(
            ImmutableDictionary<string, float[]>.Empty.Add("R", [1e6f, float.PositiveInfinity, float.NaN, 0.1f]),
            new PixelBox(0, 0, 3, 0),
            1,
            false,
            null
        );
        using var kept = new MemoryStream();
        PlanesFile.Write(kept, planes, isLight: true);
        kept.Position = 0;
        Assert.Equal(planes.Planes["R"], PlanesFile.Read(kept, 1 << 20).Planes["R"]);
    }

    [Fact]
    public void What_is_damaged_or_too_large_is_refused()
    {
        using var kept = new MemoryStream();
        PlanesFile.Write(kept, Shrunk(2, 1), isLight: true);
        byte[] whole = kept.ToArray();
        for (int length = 0; length < whole.Length - 8; length += 97)
        {
            Assert.Throws<InvalidDataException>(() => PlanesFile.Read(new MemoryStream(whole, 0, length), 1 << 20));
        }

        var chance = new Random(7);
        for (int i = 0; i < 300; i++)
        {
            byte[] hurt = [.. whole];
            hurt[chance.Next(Math.Min(120, hurt.Length))] ^= (byte)(1 << chance.Next(8));
            try
            {
                Assert.InRange(PlanesFile.Read(new MemoryStream(hurt), 1 << 20).Bytes, 0, 1 << 20);
            }
            catch (InvalidDataException)
            {
                // Refused.
            }
        }

        Assert.Throws<InvalidDataException>(() => PlanesFile.Read(new MemoryStream(whole), 100));
    }

    [Fact]
    public void A_part_at_another_size_takes_the_sample_that_lies_there()
    {
        var planes = new PicturePlanes(
            ImmutableDictionary<string, float[]>.Empty.Add("Y", [1, 2, 3, 4, 5, 6]),
            new PixelBox(10, 20, 15, 23),
            2,
            false,
            null
        );
        Assert.Equal([1, 1, 2, 1, 1, 2, 4, 4, 5], planes.At(1, new PixelBox(10, 20, 12, 22)).Planes["Y"]);
        Assert.Equal([0, 0, 0, 6], planes.At(2, new PixelBox(13, 21, 16, 24)).Planes["Y"].Select((v, i) => i == 3 ? 6f : 0f));
        Assert.Equal([1, 3], planes.At(4, new PixelBox(10, 20, 15, 23)).Planes["Y"]);
        Assert.Equal([0], planes.At(1, new PixelBox(9, 20, 9, 20)).Planes["Y"]);
    }

    public void Dispose() => _folder.Dispose();
}
