using DuneCrate.Foundation.Frames;

namespace DuneCrate.Web.Tests;

public class FrameScaleTests
{
    [Fact]
    public void Frames_are_slots_of_equal_width()
    {
        var scale = new FrameScale(FrameSet.Parse("1001-1010"));
        Assert.Equal(
            ("0%", "5%", "90%", "20%"),
            (scale.Left(1001), scale.Middle(1001), scale.Left(1010), scale.Width(new FrameRun(1003, 1004, 1)))
        );
    }

    [Theory]
    [InlineData("1-24")]
    [InlineData("1001-4000")]
    [InlineData("-50-50")]
    [InlineData("7")]
    [InlineData("1-1000000")]
    public void Ticks_and_labels_stay_few_and_inside(string frames)
    {
        var scale = new FrameScale(FrameSet.Parse(frames));
        int[] ticks = [.. scale.Ticks()];
        Assert.InRange(ticks.Length, 1, 130);
        Assert.All(ticks, t => Assert.InRange(t, scale.First, scale.Last));
        Assert.InRange(ticks.Count(scale.IsLabelled), 1, 17);
    }

    [Fact]
    public void Labels_at_the_beginning_do_not_run_into_each_other() =>
        Assert.False(new FrameScale(FrameSet.Parse("1001-1024")).IsLabelled(1001));
}
