namespace DuneCrate.Foundation.Tests.Frames;

/// <summary>Rates against each other. SMPTE ST 12-1: 23.976 is 24000/1001, so that 1,000 of its frames last as long as 1,001 of
/// 24.</summary>
public sealed class RateDifferenceTests
{
    [Theory]
    [InlineData("24000/1001", "24", "plays 0.1 % too fast: one frame is lost in every 1,001")]
    [InlineData("24", "24000/1001", "plays 0.1 % too slow: one frame is left over in every 1,001")]
    [InlineData("25", "24", "plays 4 % too slow: one frame is left over in every 25")]
    [InlineData("24", "25", "plays 4.17 % too fast: one frame is lost in every 25")]
    [InlineData("60", "24", "plays 60 % too slow: 3 frames are left over in every 5")]
    public void What_another_rate_does_is_told(string own, string played, string said) =>
        Assert.EndsWith(said, RateDifference.Tell(FrameRate.Parse(own), FrameRate.Parse(played)));

    [Fact]
    public void The_same_rate_does_nothing()
    {
        Assert.Null(RateDifference.Tell(FrameRate.Parse("48/2"), FrameRate.Parse("24")));
        Assert.Null(RateDifference.Tell(default, FrameRate.Parse("24")));
    }
}
