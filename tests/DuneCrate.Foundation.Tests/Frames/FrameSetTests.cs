using System.Diagnostics;
using CsCheck;

namespace DuneCrate.Foundation.Tests.Frames;

public class FrameSetTests
{
    private static readonly Gen<int[]> SomeFrames = Gen.OneOf(
        Gen.Int[-40, 60].Array[0, 30],
        Gen.Select(
            Gen.Int[-30, 30],
            Gen.Int[1, 20],
            Gen.Int[1, 5],
            (first, count, step) => Enumerable.Range(0, count).Select(i => first + i * step).ToArray()
        ),
        Gen.Select(
            Gen.Int[-30, 30],
            Gen.Int[1, 12],
            Gen.Int[1, 4],
            Gen.Int[-30, 30],
            Gen.Int[1, 12],
            Gen.Int[1, 6],
            (a, n, s, b, m, t) =>
                Enumerable.Range(0, n).Select(i => a + i * s).Concat(Enumerable.Range(0, m).Select(i => b + i * t)).ToArray()
        )
    );

    [Theory]
    [InlineData("1001", "1001")]
    [InlineData("1001-1048", "1001-1048")]
    [InlineData("1001-1048x2", "1001-1047x2")]
    [InlineData("1001-1010,1015,1020-1040x2", "1001-1010,1015,1020-1040x2")]
    [InlineData("-5--1", "-5--1")]
    [InlineData("-5-5x5", "-5-5x5")]
    [InlineData("5,4,3,2,1", "1-5")]
    [InlineData("1-5,4-9", "1-9")]
    [InlineData("1-9x2,2-10x2", "1-10")]
    [InlineData("1,5", "1,5")]
    [InlineData("1-5x4", "1,5")]
    [InlineData(" 7 , 8 ", "7-8")]
    [InlineData("", "")]
    [InlineData("3-3", "3")]
    public void Parse_writes_the_canonical_form(string text, string canonical) => Assert.Equal(canonical, FrameSet.Parse(text).ToString());

    [Theory]
    [InlineData("10-1", "runs backwards; write 1-10")]
    [InlineData("abc", "is not a frame")]
    [InlineData("1-5x0", "step after x")]
    [InlineData("1-5x-2", "step after x")]
    [InlineData("1-2-3", "is not a frame")]
    [InlineData("99999999999", "is not a frame")]
    public void TryParse_says_what_is_wrong(string text, string part)
    {
        Assert.False(FrameSet.TryParse(text, out _, out string? problem));
        Assert.Contains(part, problem);
        Assert.Throws<FormatException>(() => FrameSet.Parse(text));
    }

    [Fact]
    public void Parse_of_format_is_the_same_set() =>
        SomeFrames.Sample(frames =>
        {
            FrameSet set = FrameSet.From(frames);
            return FrameSet.Parse(set.ToString()).Equals(set);
        });

    [Fact]
    public void From_holds_the_frames_it_was_given() =>
        SomeFrames.Sample(frames => FrameSet.From(frames).SequenceEqual(frames.Distinct().Order()));

    [Fact]
    public void Operations_agree_with_sets_of_integers() =>
        Gen.Select(SomeFrames, SomeFrames)
            .Sample(
                (a, b) =>
                {
                    (FrameSet x, FrameSet y) = (FrameSet.From(a), FrameSet.From(b));
                    return x.Union(y).SequenceEqual(a.Union(b).Order())
                        && x.Intersect(y).SequenceEqual(a.Intersect(b).Order())
                        && x.Except(y).SequenceEqual(a.Except(b).Order())
                        && x.LongCount == a.Distinct().Count();
                },
                iter: 3000
            );

    [Fact]
    public void Equal_frames_are_equal_whatever_they_were_made_of() =>
        Gen.Select(SomeFrames, SomeFrames)
            .Sample(
                (a, b) =>
                {
                    FrameSet joined = FrameSet.From(a).Union(FrameSet.From(b)),
                        listed = FrameSet.From([.. a, .. b]);
                    return joined.Equals(listed) && joined.GetHashCode() == listed.GetHashCode() && joined.ToString() == listed.ToString();
                }
            );

    [Fact]
    public void Many_sets_at_once_are_the_same_as_one_after_the_other() =>
        SomeFrames
            .Array[0, 6]
            .Sample(lists =>
                FrameSet
                    .UnionOf(lists.Select(FrameSet.From))
                    .Equals(lists.Select(FrameSet.From).Aggregate(FrameSet.Empty, (all, set) => all.Union(set)))
            );

    [Fact]
    public void Runs_that_interleave_over_millions_of_frames_are_joined()
    {
        FrameSet odd = FrameSet.Range(1, 40_000_001, 40_000),
            even = FrameSet.Range(2, 40_000_002, 40_000);
        FrameSet all = FrameSet.UnionOf([odd, even]);
        Assert.Equal(odd.LongCount + even.LongCount, all.LongCount);
        Assert.True(all.Contains(40_001) && all.Contains(40_002) && !all.Contains(40_003));
    }

    [Fact]
    public void Contains_agrees_with_the_list() =>
        Gen.Select(SomeFrames, Gen.Int[-50, 70]).Sample((frames, frame) => FrameSet.From(frames).Contains(frame) == frames.Contains(frame));

    [Fact]
    public void Nearest_is_no_farther_than_any_other() =>
        Gen.Select(SomeFrames.Where(f => f.Length > 0), Gen.Int[-90, 90])
            .Sample(
                (frames, frame) =>
                {
                    int nearest = FrameSet.From(frames).Nearest(frame);
                    return frames.Contains(nearest) && frames.All(f => Math.Abs(f - frame) >= Math.Abs(nearest - frame));
                }
            );

    [Fact]
    public void Nearest_of_two_is_the_lower() => Assert.Equal(10, FrameSet.Parse("10,20").Nearest(15));

    [Fact]
    public void Frames_46_to_570_are_525() => Assert.Equal(525, FrameSet.Parse("46-570").Count); // Common practice: both ends count.

    [Fact]
    public void A_million_frames_are_one_run()
    {
        long before = GC.GetAllocatedBytesForCurrentThread();
        FrameSet all = FrameSet.Range(1, 1_000_000),
            even = FrameSet.Range(2, 1_000_000, 2);
        FrameSet odd = all.Except(even);
        Assert.Equal("1-999999x2", odd.ToString());
        Assert.Equal(1_000_000, odd.Union(FrameSet.Single(1_000_000)).LongCount + even.LongCount - 1);
        Assert.Equal("6-999996x6", even.Intersect(FrameSet.Range(3, 1_000_000, 3)).ToString());
        Assert.True(GC.GetAllocatedBytesForCurrentThread() - before < 200_000_000);
        Assert.Single(all.Runs);
    }

    [Fact]
    public void Two_thousand_million_frames_count_at_once()
    {
        var watch = Stopwatch.StartNew();
        FrameSet set = FrameSet.Range(-1_000_000_000, 1_000_000_000);
        Assert.Equal(2_000_000_001, set.LongCount);
        Assert.Equal("-1000000000--1,1-1000000000", set.Except(FrameSet.Single(0)).ToString());
        Assert.Equal(3, set.Except(FrameSet.Single(0)).Except(FrameSet.Single(5)).Runs.Length);
    }

    [Fact]
    public void Empty_has_no_ends()
    {
        Assert.True(FrameSet.Empty.IsEmpty);
        Assert.Throws<InvalidOperationException>(() => FrameSet.Empty.First);
        Assert.Throws<InvalidOperationException>(() => FrameSet.Empty.Nearest(1));
        Assert.Equal(FrameSet.Empty, FrameSet.Single(1).Except(FrameSet.Single(1)));
    }

    [Fact]
    public void Range_ends_at_the_last_frame_that_a_step_reaches()
    {
        Assert.Equal((9, 3L), (FrameSet.Range(1, 10, 4).Last, FrameSet.Range(1, 10, 4).LongCount));
        Assert.False(FrameSet.Range(1, 10, 4).Contains(10));
        Assert.Equal("1-9x4", FrameSet.Range(1, 10, 4).ToString());
    }

    [Fact]
    public void Range_refuses_reversed_ends_and_steps_below_one()
    {
        Assert.Throws<ArgumentOutOfRangeException>(() => FrameSet.Range(2, 1));
        Assert.Throws<ArgumentOutOfRangeException>(() => FrameSet.Range(1, 2, 0));
    }
}
