using DuneCrate.Checking.Rebuild;
using DuneCrate.Checking.Reports;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>Residuals drawn along the frames.</summary>
public sealed class ResidualStripTests
{
    private static (int, RebuildFacts) At(int frame, double mean, double off = 0) =>
        (frame, new RebuildFacts { MeanResidual = mean, OffShare = off });

    [Fact]
    public void Bars_stand_at_their_frames_as_high_as_the_root_of_their_residual()
    {
        var strip = ResidualStrip.From(FrameSet.Range(1001, 1010), [At(1004, 0.16), At(1001, 0), At(1003, 0.04)], (Mean: 0.01, Off: 0.01));
        Assert.Equal([1001, 1003, 1004], strip.Bars.Select(b => b.Frame));
        Assert.Equal([0, 200, 300], strip.Bars.Select(b => b.X));
        Assert.Equal(2, strip.Bars[2].Y, 1e-9); // 58 of 60 high.
        Assert.Equal(60 - 29, strip.Bars[1].Y, 1e-9);
        Assert.Equal(60 - 14.5, strip.LimitY, 1e-9);
        Assert.Equal(1003, strip.Begins);
    }

    [Fact]
    public void A_frame_is_off_by_its_pixels_too()
    {
        var strip = ResidualStrip.From(FrameSet.Range(1, 2), [At(1, 0.001), At(2, 0.001, off: 0.5)], (Mean: 0.01, Off: 0.01));
        Assert.Equal(2, strip.Begins);
        Assert.Null(ResidualStrip.From(FrameSet.Range(1, 2), [], (Mean: 0.01, Off: 0.01)).Begins);
    }
}
