namespace DuneCrate.Foundation.Tests.Frames;

public class FrameRateTests
{
    [Theory]
    [InlineData("24", "24/1")]
    [InlineData("24/1", "24/1")]
    [InlineData("48/2", "24/1")]
    [InlineData("24000/1001", "24000/1001")]
    [InlineData("23.976", "24000/1001")] // SMPTE ST 12-1's fractional rates; common practice for the decimals.
    [InlineData("23.98", "24000/1001")]
    [InlineData("29.97", "30000/1001")]
    [InlineData("59.94", "60000/1001")]
    [InlineData("12.5", "25/2")]
    public void TryParse_reads_fractions_and_decimals(string text, string rate)
    {
        Assert.True(FrameRate.TryParse(text, out FrameRate parsed, out _));
        Assert.Equal(rate, parsed.ToString());
    }

    [Theory]
    [InlineData("")]
    [InlineData("0")]
    [InlineData("-24")]
    [InlineData("24/0")]
    [InlineData("fast")]
    [InlineData("1e9")]
    public void TryParse_refuses(string text)
    {
        Assert.False(FrameRate.TryParse(text, out _, out string? problem));
        Assert.Contains("is not a frame rate", problem);
    }

    [Fact]
    public void Rates_compare_as_fractions() => Assert.NotEqual(new FrameRate(24, 1), new FrameRate(24000, 1001));

    [Theory]
    [InlineData("24", 0, "00:00:00:00")]
    [InlineData("24", 23, "00:00:00:23")]
    [InlineData("24", 24, "00:00:01:00")]
    [InlineData("25", 90000, "01:00:00:00")]
    [InlineData("23.976", 24, "00:00:01:00")] // Non-drop counting, SMPTE ST 12-1.
    public void Timecode_counts_whole_frames(string rate, long index, string timecode) =>
        Assert.Equal(timecode, FrameRate.Parse(rate).Timecode(index));

    [Fact]
    public void Numbers_below_one_are_refused() => Assert.Throws<ArgumentOutOfRangeException>(() => new FrameRate(0, 1));

    /// <summary>
    /// SMPTE ST 12-1 drop-frame count at 30000/1001: numbers 00 and 01 of every minute but the tenth are passed over; 17,982 frames make
    /// ten minutes and 107,892
    /// an hour of timecode (18 × 6 numbers dropped from 108,000).
    /// </summary>
    [Theory]
    [InlineData(0, "00:00:00;00")]
    [InlineData(1799, "00:00:59;29")]
    [InlineData(1800, "00:01:00;02")]
    [InlineData(17981, "00:09:59;29")]
    [InlineData(17982, "00:10:00;00")]
    [InlineData(107892, "01:00:00;00")]
    [InlineData(2589408, "24:00:00;00")]
    public void Drop_frame_counts_pass_over_numbers(long index, string timecode) =>
        Assert.Equal(timecode, new FrameRate(30000, 1001).DropFrameTimecode(index));

    [Theory]
    [InlineData(3599, "00:00:59;59")]
    [InlineData(3600, "00:01:00;04")]
    [InlineData(215784, "01:00:00;00")]
    public void Twice_the_rate_drops_twice_the_numbers(long index, string timecode) =>
        Assert.Equal(timecode, new FrameRate(60000, 1001).DropFrameTimecode(index));

    [Fact]
    public void Other_rates_have_no_drop_frame_count()
    {
        Assert.False(new FrameRate(24000, 1001).AllowsDropFrame);
        Assert.Throws<InvalidOperationException>(() => new FrameRate(24, 1).DropFrameTimecode(0));
    }
}
