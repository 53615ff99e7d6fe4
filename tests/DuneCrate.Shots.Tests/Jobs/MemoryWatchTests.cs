using DuneCrate.Shots.Jobs;

namespace DuneCrate.Shots.Tests.Jobs;

/// <summary>When memory is given back; how much that saves, <c>bench/run trial mutated</c> says.</summary>
public class MemoryWatchTests
{
    [Theory]
    [InlineData(399, 0, false)]
    [InlineData(401, 0, true)]
    [InlineData(800, 780, false)]
    [InlineData(813, 780, true)]
    public void It_is_given_back_above_a_bound_and_after_growing(long now, long lately, bool isDue) =>
        Assert.Equal(isDue, MemoryWatch.IsDue(now << 20, lately << 20));
}
