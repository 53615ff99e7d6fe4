using CsCheck;
using DuneCrate.Foundation.Naming;

namespace DuneCrate.Foundation.Tests.Naming;

public class NameTemplateTests
{
    private static readonly Dictionary<string, string> Values = new()
    {
        ["show"] = "KELP",
        ["shot"] = "KP010",
        ["layer"] = "sub",
        ["pass"] = "depth",
        ["version"] = "v003",
    };

    [Theory]
    [InlineData("{layer}/{shot}_{layer}.{frame}.exr", 4, 1001, "sub/KP010_sub.1001.exr")]
    [InlineData("{shot}_{pass}_{version}.{frame}.exr", 6, 7, "KP010_depth_v003.000007.exr")]
    [InlineData("{shot}.{frame}.exr", 4, -5, "KP010.-0005.exr")]
    [InlineData("{shot}.{frame}.exr", 1, 12, "KP010.12.exr")]
    [InlineData("{shot}.{frame}.exr", 3, 1234, "KP010.1234.exr")]
    [InlineData("{shot}_slate.exr", 4, 1, "KP010_slate.exr")]
    public void Fill_makes_paths(string template, int padding, int frame, string path) =>
        Assert.Equal(path, NameTemplate.Parse(template).Fill(Values, padding).At(frame));

    [Theory]
    [InlineData("")]
    [InlineData("{lyaer}.{frame}.exr")]
    [InlineData("{layer.{frame}.exr")]
    [InlineData("layer}.{frame}.exr")]
    [InlineData("/abs/{frame}.exr")]
    [InlineData("../{frame}.exr")]
    [InlineData("a//{frame}.exr")]
    [InlineData("a:b.{frame}.exr")]
    [InlineData("{frame}.{frame}.exr")]
    public void TryParse_refuses(string template)
    {
        Assert.False(NameTemplate.TryParse(template, out _, out string? problem));
        Assert.False(string.IsNullOrEmpty(problem));
    }

    [Fact]
    public void Unknown_token_is_named() =>
        Assert.Contains("{lyaer}", Assert.Throws<FormatException>(() => NameTemplate.Parse("{lyaer}.exr")).Message);

    [Fact]
    public void A_frame_is_read_back_from_the_name_it_was_given() =>
        Gen.Int[-5000, 200000]
            .Select(Gen.Int[1, 7])
            .Sample(
                (frame, padding) =>
                {
                    FrameName name = NameTemplate.Parse("{layer}/{shot}_{layer}_{version}.{frame}.exr").Fill(Values, padding);
                    return name.Match(name.At(frame)) is { } read && read.Frame == frame;
                }
            );

    [Theory]
    [InlineData("s/x.0012.exr", 12, 4)]
    [InlineData("s/x.-0012.exr", -12, 4)]
    [InlineData("s/x.12.exr", 12, 2)]
    public void FrameName_reads_number_and_digits(string path, int frame, int digits) =>
        Assert.Equal((frame, digits), new FrameName("s/x.", ".exr", 4).Match(path));

    [Fact]
    public void FrameName_is_written_with_a_hash_per_digit() =>
        Assert.Equal("sub/KP010_sub.####.exr", new FrameName("sub/KP010_sub.", ".exr", 4).ToString());

    [Theory]
    [InlineData(360, 3)] // 360 frames need three digits: common practice.
    [InlineData(9, 1)]
    [InlineData(1000, 4)]
    [InlineData(-10, 2)]
    [InlineData(int.MinValue, 10)]
    public void DigitsFor_counts_digits(int frame, int digits) => Assert.Equal(digits, FrameName.DigitsFor(frame));

    [Theory]
    [InlineData("kelp", "kelp", 0)]
    [InlineData("kelp", "kepl", 1)] // A swap of neighbours is one edit: optimal string alignment.
    [InlineData("kitten", "sitting", 3)] // V. I. Levenshtein's distance, the textbook example.
    [InlineData("", "abc", 3)]
    [InlineData("ca", "abc", 3)] // Optimal string alignment gives 3 where the unrestricted distance gives 2.
    public void EditDistance_counts_edits(string a, string b, int distance) => Assert.Equal(distance, EditDistance.Between(a, b));
}
