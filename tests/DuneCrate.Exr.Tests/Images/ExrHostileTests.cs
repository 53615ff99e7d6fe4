using System.Buffers.Binary;
using System.Text;
using DuneCrate.Checking.Intake;

namespace DuneCrate.Exr.Tests.Images;

/// <summary>Files that lie, end early or are no images: always facts with a problem, never an exception, in bounded memory.</summary>
public class ExrHostileTests
{
    private static byte[] Good()
    {
        using var stream = new MemoryStream();
        ExrWriter.Write(
            stream,
            TestImages.Make(
                PixelBox.OfSize(40, 50),
                ExrCompression.Zip,
                ("R", ChannelType.Half),
                ("G", ChannelType.Half),
                ("Z", ChannelType.Float)
            )
        );
        return stream.ToArray();
    }

    private static FileFacts Facts(byte[] bytes, FactsDepth depth = FactsDepth.Pixels)
    {
        using var folder = new TempFolder();
        File.WriteAllBytes(folder["a.exr"], bytes);
        return Disk.Facts(folder["a.exr"], new FactsRequest(depth));
    }

    private static int Find(byte[] bytes, string text) => bytes.AsSpan().IndexOf(Encoding.ASCII.GetBytes(text));

    private static byte[] WithAttribute(string name, Action<Span<byte>> change)
    {
        byte[] bytes = Good();
        int at = Find(bytes, name + "\0");
        at += name.Length + 1;
        at += bytes.AsSpan(at).IndexOf((byte)0) + 1;
        change(bytes.AsSpan(at));
        return bytes;
    }

    [Fact]
    public void Every_cut_gives_facts_with_a_problem()
    {
        byte[] good = Good();
        for (int length = 64; length < good.Length; length += 97)
        {
            foreach (FactsDepth depth in Enum.GetValues<FactsDepth>())
            {
                FileFacts facts = Facts(good[..length], depth);
                Assert.False(string.IsNullOrEmpty(facts.Problem) && depth == FactsDepth.Pixels, $"cut at {length}");
            }
        }
    }

    [Fact]
    public void Lost_lines_are_said()
    {
        byte[] good = Good();
        FileFacts facts = Facts(good[..(good.Length - 10)]);
        Assert.True(facts.Readable);
        Assert.Equal(ImageProblem.Truncated, facts.Trouble);
        Assert.Equal("48-49", facts.LostLines!.ToString());
        Assert.Contains("lines 48 to 49 are lost", facts.Problem);
        Assert.Equal(3, facts.Parts[0].Channels.Length);
        Assert.Equal(40 * 48, facts.Parts[0].Channels[0].Samples!.Pixels);
    }

    [Fact]
    public void Header_depth_sees_chunks_beyond_the_end()
    {
        byte[] good = Good();
        FileFacts facts = Facts(good[..(good.Length * 3 / 5)], FactsDepth.Header);
        Assert.Equal(ImageProblem.Truncated, facts.Trouble);
        Assert.False(facts.LostLines!.IsEmpty);
    }

    [Fact]
    public void A_chunk_that_was_never_written_is_lost()
    {
        byte[] bytes = Good();
        long[] table = TableOf(bytes);
        bytes = WithoutTable(bytes, table, 3);
        FileFacts facts = Facts(bytes[..(int)table[3]]);
        Assert.Equal("48-49", facts.LostLines!.ToString());
        Assert.Contains("never written", facts.Problem);
    }

    [Theory]
    [InlineData(1, 1)]
    [InlineData(0, 4)]
    public void A_table_that_was_never_finished_is_made_whole_by_walking_the_chunks(int from, int count)
    {
        byte[] good = Good();
        FileFacts facts = Facts(WithoutTable(good, TableOf(good), [.. Enumerable.Range(from, count)])),
            whole = Facts(good);
        Assert.Null(facts.Problem);
        Assert.Equal(count, facts.MendedChunks);
        Assert.Equal(
            whole.Channels.Select(c => c.Samples! with { Percentiles = [] }),
            facts.Channels.Select(c => c.Samples! with { Percentiles = [] })
        );
    }

    private static long[] TableOf(byte[] bytes)
    {
        using var folder = new TempFolder();
        File.WriteAllBytes(folder["a.exr"], bytes);
        using ExrFile file = Disk.Exr(folder["a.exr"]);
        return [.. file.ChunkTables[0]];
    }

    /// <summary>The file with some entries of its chunk table zero, as a writer leaves them that was stopped.</summary>
    private static byte[] WithoutTable(byte[] bytes, long[] table, params int[] entries)
    {
        int at = bytes.AsSpan().IndexOf(BitConverter.GetBytes(table[0]));
        foreach (int entry in entries)
        {
            bytes.AsSpan(at + 8 * entry, 8).Clear();
        }

        return bytes;
    }

    [Fact]
    public void A_text_file_is_no_image()
    {
        FileFacts facts = Facts(Encoding.ASCII.GetBytes(new string('x', 500)));
        Assert.False(facts.Readable);
        Assert.Contains("not an OpenEXR file", facts.Problem);
        Assert.Equal(ImageProblem.Unreadable, facts.Trouble);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(17)]
    public void A_few_bytes_are_still_being_written(int length) => Assert.Equal(ImageProblem.Tiny, Facts(new byte[length]).Trouble);

    [Fact]
    public void A_window_of_two_thousand_million_lines_is_refused_before_anything_is_allocated()
    {
        long before = GC.GetTotalAllocatedBytes();
        FileFacts facts = Facts(WithAttribute("dataWindow", v => BinaryPrimitives.WriteInt32LittleEndian(v[16..], int.MaxValue - 1)));
        Assert.False(facts.Readable);
        Assert.NotNull(facts.Problem);
        Assert.True(GC.GetTotalAllocatedBytes() - before < 50_000_000);
    }

    [Fact]
    public void A_window_larger_than_its_bytes_can_unpack_to_is_refused()
    {
        FileFacts facts = Facts(WithAttribute("dataWindow", v => BinaryPrimitives.WriteInt32LittleEndian(v[12..], 20_000_000)));
        Assert.NotNull(facts.Problem);
        Assert.All(facts.Channels, c => Assert.True(c.Samples is null || c.Samples.Pixels == 0));
    }

    [Fact]
    public void A_window_inside_out_is_refused() =>
        Assert.Contains(
            "data window claims",
            Facts(WithAttribute("dataWindow", v => BinaryPrimitives.WriteInt32LittleEndian(v[12..], -5))).Problem
        );

    [Fact]
    public void An_attribute_that_claims_more_than_the_file_is_refused() =>
        Assert.NotNull(Facts(WithAttribute("lineOrder", v => BinaryPrimitives.WriteInt32LittleEndian(v, 1 << 24))).Problem);

    [Fact]
    public void A_negative_attribute_size_is_refused() =>
        Assert.Contains("claims -1 bytes", Facts(WithAttribute("lineOrder", v => BinaryPrimitives.WriteInt32LittleEndian(v, -1))).Problem);

    [Fact]
    public void An_unknown_compression_is_named() =>
        Assert.Contains("the compression number 77 is newer", Facts(WithAttribute("compression", v => v[4] = 77)).Problem);

    [Fact]
    public void A_channel_that_claims_fewer_samples_than_it_has_is_facts_with_a_problem()
    {
        FileFacts facts = Facts(WithAttribute("channels", v => v[4 + 2 + 8] = 2));
        Assert.NotNull(facts.Problem);
        Assert.Equal(3, facts.Parts[0].Channels.Length);
    }

    [Fact]
    public void A_newer_version_is_named()
    {
        byte[] bytes = Good();
        bytes[4] = 3;
        Assert.Contains("version 3", Facts(bytes).Problem);
    }

    [Fact]
    public void A_chunk_that_says_another_line_is_damaged()
    {
        byte[] bytes = Good();
        using var folder = new TempFolder();
        File.WriteAllBytes(folder["a.exr"], bytes);
        using (ExrFile file = Disk.Exr(folder["a.exr"]))
        {
            bytes[file.ChunkTables[0][2]] ^= 1;
        }

        Assert.Equal("32-47", Facts(bytes).LostLines!.ToString());
    }
}
