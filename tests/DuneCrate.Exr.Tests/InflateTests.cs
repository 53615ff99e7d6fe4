using System.IO.Compression;
using DuneCrate.Exr.Codecs;

namespace DuneCrate.Exr.Tests;

/// <summary>Inflating, with and without the library, against the platform's stream, on whole, damaged and cut streams.</summary>
public class InflateTests
{
    [Theory]
    [InlineData(1, CompressionLevel.NoCompression)]
    [InlineData(70_000, CompressionLevel.Fastest)]
    [InlineData(1_000_003, CompressionLevel.SmallestSize)]
    public void Whole_streams_inflate_to_what_they_were(int length, CompressionLevel level)
    {
        var random = new Random(length);
        byte[] bytes = [.. Enumerable.Range(0, length).Select(i => (byte)(i % 251 + random.Next(3)))],
            packed = Pack(bytes, level),
            to = new byte[length];
        Assert.Equal(length, Inflate.Into(packed, to));
        Assert.Equal(bytes, to);
        // Whether there is more than fits is told, and room that is not needed does no harm.
        Assert.Equal(length + 1, Inflate.Into(Pack([.. bytes, 7], level), to));
        Assert.Equal(length, Inflate.Into(packed, new byte[length + 100]));
        // The faster library, which Debian's image libraries bring, says of what it does not take only that it does not.
        Assert.True(Libdeflate.IsThere);
        to.AsSpan().Clear();
        Assert.Equal(length, Libdeflate.Own.Into(packed, to));
        Assert.Equal(bytes, to);
        Assert.Equal(-1, Libdeflate.Own.Into(Pack([.. bytes, 7], level), to));
        Assert.Equal(length, Libdeflate.Own.Into(packed, new byte[length + 100]));
    }

    [Fact]
    public void Nothing_inflates_to_nothing() => Assert.Equal(0, Inflate.Into(Pack([], CompressionLevel.Fastest), []));

    [Fact]
    public void Damaged_and_cut_streams_are_told_as_the_stream_tells_them()
    {
        var random = new Random(5);
        byte[] bytes = new byte[4000];
        random.NextBytes(bytes.AsSpan(0, 1500));
        byte[] packed = Pack(bytes, CompressionLevel.Optimal);
        for (int i = 0; i < 400; i++)
        {
            byte[] hurt = [.. packed];
            if (i % 2 == 0)
            {
                hurt[random.Next(hurt.Length)] ^= (byte)(1 << random.Next(8));
            }
            else
            {
                hurt = hurt[..random.Next(hurt.Length)];
            }

            byte[] ours = new byte[4000],
                theirs = new byte[4000];
            string told = Told(() => ByStream(hurt, theirs));
            Assert.Equal(told, Told(() => Inflate.Into(hurt, ours)));
            int made = int.TryParse(told, out int number) ? Math.Min(number, ours.Length) : 0;
            Assert.Equal(theirs[..made], ours[..made]);
        }
    }

    private static string Told(Func<int> inflate)
    {
        try
        {
            return $"{inflate()}";
        }
        catch (InvalidDataException)
        {
            return "no zlib stream";
        }
    }

    private static int ByStream(byte[] packed, byte[] to)
    {
        using var stream = new ZLibStream(new MemoryStream(packed), CompressionMode.Decompress);
        int made = stream.ReadAtLeast(to, to.Length, throwOnEndOfStream: false);
        return made == to.Length && stream.ReadByte() >= 0 ? made + 1 : made;
    }

    private static byte[] Pack(byte[] bytes, CompressionLevel level)
    {
        var packed = new MemoryStream();
        using (var stream = new ZLibStream(packed, level, leaveOpen: true))
        {
            stream.Write(bytes);
        }

        return packed.ToArray();
    }
}
