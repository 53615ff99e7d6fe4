using CsCheck;
using DuneCrate.Exr.Codecs;

namespace DuneCrate.Exr.Tests;

/// <summary>
/// The steps of the codecs one by one: each undone by its other half, and where a plain program of the same step is a few lines, equal to
/// that. What whole files hold is
/// compared with the reference library in <c>ExrAgainstToolsTests</c>.
/// </summary>
public class CodecTests
{
    private static readonly Gen<ushort[]> Words = Gen.OneOf(
        Gen.UShort.Array[1, 400],
        Gen.UShort[0, 3].Array[1, 3000],
        Gen.Select(Gen.UShort, Gen.Int[1, 5000], (word, count) => Enumerable.Repeat(word, count).ToArray()),
        Gen.Select(
            Gen.UShort[0, 40].Array[1, 60],
            Gen.Int[1, 60],
            (some, times) => Enumerable.Repeat(some, times).SelectMany(s => s).ToArray()
        )
    );

    [Fact]
    public void Huffman_decoding_undoes_encoding() =>
        Words.Sample(
            words =>
            {
                byte[] packed = new byte[words.Length * 4 + 200_000];
                int length = Huffman16Encoder.Encode(words, packed);
                ushort[] back = new ushort[words.Length];
                Huffman16Decoder.Decode(packed.AsSpan(0, length), back);
                return back.AsSpan().SequenceEqual(words);
            },
            iter: 300
        );

    [Fact]
    public void Huffman_codes_are_shorter_for_what_is_frequent()
    {
        var random = new Random(4);
        ushort[] even = [.. Enumerable.Range(0, 20_000).Select(_ => (ushort)random.Next(256))],
            skewed = [.. even.Select(v => random.Next(20) > 0 ? (ushort)7 : v)];
        byte[] packed = new byte[200_000];
        int length = Huffman16Encoder.Encode(even, packed);

        // Eight bits a word and the table: the entropy of 256 equal values is 8 bits (Shannon 1948).
        Assert.InRange(length, 20_000, 20_800);
        Assert.InRange(Huffman16Encoder.Encode(skewed, packed), 1, length / 4);
    }

    [Fact]
    public void Broken_Huffman_data_is_refused_and_hangs_nothing()
    {
        var random = new Random(9);
        ushort[] words = [.. Enumerable.Range(0, 500).Select(_ => (ushort)random.Next(300))];
        byte[] packed = new byte[100_000];
        int length = Huffman16Encoder.Encode(words, packed);
        int refused = 0;
        for (int round = 0; round < 2000; round++)
        {
            byte[] broken = packed[..(round % 3 == 0 ? random.Next(length) : length)];
            for (int k = 0; k < 3 && broken.Length > 0; k++)
            {
                broken[random.Next(broken.Length)] = (byte)random.Next(256);
            }

            try
            {
                Huffman16Decoder.Decode(broken, new ushort[500]);
            }
            catch (InvalidDataException)
            {
                refused++;
            }
        }

        Assert.InRange(refused, 500, 2000);
    }

    [Theory]
    [InlineData(1, 1)]
    [InlineData(2, 2)]
    [InlineData(7, 5)]
    [InlineData(64, 32)]
    [InlineData(33, 17)]
    [InlineData(1, 40)]
    [InlineData(129, 31)]
    public void The_wavelet_is_undone_for_small_and_for_large_values(int width, int height)
    {
        foreach (int largest in new[] { 0x3fff - 1, 0xffff })
        {
            var random = new Random(width * height + largest);
            ushort[] plane = [.. Enumerable.Range(0, width * height).Select(_ => (ushort)random.Next(largest + 1))],
                words = [.. plane];
            PizWavelet.Encode(words, width, 1, height, width, largest);
            PizWavelet.Decode(words, width, 1, height, width, largest);
            Assert.Equal(plane, words);
        }
    }

    [Fact]
    public void A_flat_plane_has_one_number_left_after_the_wavelet()
    {
        ushort[] words = [.. Enumerable.Repeat((ushort)900, 64 * 64)];
        PizWavelet.Encode(words, 64, 1, 64, 64, 0x3fff - 1);
        Assert.Equal(1, words.Count(w => w != 0));
    }

    [Fact]
    public void Samples_of_two_words_are_transformed_word_by_word()
    {
        var random = new Random(2);
        ushort[] plane = [.. Enumerable.Range(0, 16 * 8 * 2).Select(_ => (ushort)random.Next(65536))],
            words = [.. plane];
        for (int word = 0; word < 2; word++)
        {
            PizWavelet.Encode(words.AsSpan(word), 16, 2, 8, 32, 0xffff);
        }

        Assert.NotEqual(plane, words);
        for (int word = 0; word < 2; word++)
        {
            PizWavelet.Decode(words.AsSpan(word), 16, 2, 8, 32, 0xffff);
        }

        Assert.Equal(plane, words);
    }

    [Fact]
    public void Bytes_are_split_and_joined_as_the_plainest_program_does() =>
        Gen
            .Byte.Array[0, 600]
            .Sample(lines =>
            {
                // Technical Introduction to OpenEXR: even places first, then odd ones; each byte is what it exceeds the byte before by,
                // plus 128.
                byte[] halves = [.. lines.Where((_, i) => i % 2 == 0), .. lines.Where((_, i) => i % 2 == 1)],
                    plain = [.. halves];
                for (int i = plain.Length - 1; i > 0; i--)
                {
                    plain[i] = (byte)(plain[i] - plain[i - 1] + 128);
                }

                byte[] split = new byte[lines.Length],
                    joined = new byte[lines.Length];
                BytePrediction.Split(lines, split);
                BytePrediction.Join(split, joined);
                return split.AsSpan().SequenceEqual(plain) && joined.AsSpan().SequenceEqual(lines);
            });

    [Theory]
    [InlineData("none")]
    [InlineData("rle")]
    [InlineData("zips")]
    [InlineData("zip")]
    [InlineData("piz")]
    public void What_does_not_shrink_is_said_to_be_stored_as_it_is(string name)
    {
        byte[] noise = new byte[2048];
        new Random(1).NextBytes(noise);
        ExrCompression compression = ExrCompression.Find(name)!;
        Assert.True(compression.IsWritten);
        if (name is "rle" or "zip" or "zips")
        {
            Assert.True(compression.Codec!.Encode(noise, new byte[noise.Length], new byte[noise.Length], default) < 0);
        }
    }

    [Fact]
    public void Numbers_of_compressions_are_those_of_the_format()
    {
        // OpenEXR File Layout, attribute compression.
        Assert.Equal(
            ["none", "rle", "zips", "zip", "piz", "pxr24", "b44", "b44a", "dwaa", "dwab"],
            Enumerable.Range(0, 10).Select(n => ExrCompression.OfCode((byte)n).Name)
        );
        Assert.Equal(
            [1, 1, 1, 16, 32, 16, 32, 32, 32, 256],
            Enumerable.Range(0, 10).Select(n => ExrCompression.OfCode((byte)n).LinesPerChunk)
        );
        Assert.Equal(["pxr24", "b44", "b44a", "dwaa", "dwab"], ExrCompression.All.Where(c => c.IsLossy).Select(c => c.Name));
        Assert.Null(ExrCompression.OfCode(10).Codec);
    }
}
