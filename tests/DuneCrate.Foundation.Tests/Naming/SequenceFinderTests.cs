using CsCheck;
using DuneCrate.Foundation.Naming;

namespace DuneCrate.Foundation.Tests.Naming;

public class SequenceFinderTests
{
    private static string[] Names(string format, params int[] frames) => [.. frames.Select(f => string.Format(format, f))];

    private static FileSequence Only(params string[] paths) => Assert.Single(SequenceFinder.Find(paths));

    [Fact]
    public void Padded_names_are_one_sequence()
    {
        FileSequence sequence = Only(Names("sub/KP010_sub.{0:0000}.exr", [.. Enumerable.Range(1001, 48)]));
        Assert.Equal("sub/KP010_sub.####.exr", sequence.Name.ToString());
        Assert.Equal("1001-1048", sequence.Frames.ToString());
    }

    [Fact]
    public void Unpadded_names_have_padding_one()
    {
        FileSequence sequence = Only(Names("a.{0}.exr", 8, 9, 10, 11, 100));
        Assert.Equal(1, sequence.Name.Padding);
        Assert.Empty(sequence.OddlyPadded());
    }

    [Fact]
    public void Negative_frames_are_read_with_their_sign()
    {
        FileSequence sequence = Only("a.-0002.exr", "a.-0001.exr", "a.0000.exr", "a.0001.exr");
        Assert.Equal("-2-1", sequence.Frames.ToString());
        Assert.Equal(4, sequence.Name.Padding);
    }

    [Fact]
    public void Of_several_numbers_the_one_that_changes_is_the_frame()
    {
        FileSequence sequence = Only(Names("kp010_take2_{0:000}_half.exr", 1, 2, 3));
        Assert.Equal("kp010_take2_###_half.exr", sequence.Name.ToString());
    }

    [Fact]
    public void A_version_is_not_a_frame()
    {
        Assert.Equal(2, SequenceFinder.Find(["slate_v001.exr", "slate_v002.exr"]).Length);
        Assert.All(SequenceFinder.Find(["slate_v001.exr", "slate_v002.exr"]), s => Assert.True(s.HasNoFrameNumber));
    }

    [Fact]
    public void Two_versions_of_a_sequence_are_two_sequences()
    {
        var found = SequenceFinder.Find(Names("a_v001.{0:0000}.exr", 1, 2, 3).Concat(Names("a_v002.{0:0000}.exr", 1, 2, 3)));
        Assert.Equal(["a_v001.####.exr", "a_v002.####.exr"], found.Select(s => s.Name.ToString()));
    }

    [Fact]
    public void A_number_after_the_extension_is_found()
    {
        FileSequence sequence = Only(Names("a.exr.{0:0000}", 1, 2, 3));
        Assert.Equal("a.exr.####", sequence.Name.ToString());
    }

    [Fact]
    public void Two_paddings_are_one_sequence_and_the_rarer_is_odd()
    {
        FileSequence sequence = Only([.. Names("a.{0:0000}.exr", 1, 2, 3, 4), "a.00005.exr"]);
        Assert.Equal(4, sequence.Name.Padding);
        Assert.Equal("a.00005.exr", Assert.Single(sequence.OddlyPadded()).Path);
    }

    [Fact]
    public void Two_files_may_claim_one_frame() =>
        Assert.Equal(2, Only("a.0012.exr", "a.012.exr", "a.0013.exr", "a.0014.exr").Files.Count(f => f.Frame == 12));

    [Fact]
    public void Stills_beside_sequences_stay_stills()
    {
        var found = SequenceFinder.Find([.. Names("a.{0:0000}.exr", 1, 2), "slate.exr", "notes2.exr"]);
        Assert.Equal(["a.####.exr", "notes2.exr", "slate.exr"], found.Select(s => s.Name.ToString()));
    }

    [Fact]
    public void A_single_file_with_a_frame_number_is_a_sequence_of_one() => Assert.Equal("a.####.exr", Only("a.1001.exr").Name.ToString());

    [Fact]
    public void The_order_of_names_does_not_matter() =>
        Gen.Shuffle(Names("x/a.{0:0000}.exr", 1, 2, 3, 7, 9).Concat(Names("x/b{0}.exr", 8, 9, 10)).Append("x/still.exr").ToArray())
            .Sample(shuffled =>
                SequenceFinder
                    .Find(shuffled)
                    .Select(s => (s.Name, s.Frames))
                    .SequenceEqual(SequenceFinder.Find(shuffled.Order()).Select(s => (s.Name, s.Frames)))
            );

    [Theory]
    [InlineData("1-10,12", "11")]
    [InlineData("1-21x2", "")]
    [InlineData("1-9x2,13", "11")]
    [InlineData("1,2", "")]
    [InlineData("1,3", "")]
    [InlineData("1,2,4", "3")]
    [InlineData("1,3,4", "2")]
    public void Gaps_follow_the_sequences_own_step(string frames, string gaps) =>
        Assert.Equal(gaps, Only([.. FrameSet.Parse(frames).Select(f => $"a.{f:0000}.exr")]).Gaps().ToString());

    [Fact]
    public void Digits_in_the_extension_are_no_frame() =>
        Assert.All(SequenceFinder.Find(["clip.mp4", "clip.mp3"]), s => Assert.True(s.HasNoFrameNumber));
}
