using DuneCrate.Imaging.Stacking;

namespace DuneCrate.Imaging.Tests.Stacking;

/// <summary>What a composite does that may not be meant, on files that oiiotool wrote.</summary>
public sealed class StackAdviceTests : IDisposable
{
    private readonly TempFolder _folder = new();

    /// <summary>A soft disc of bright colour: its alpha is a blurred square, its colour straight or premultiplied.</summary>
    private (StackStrip Strip, StripPixels Pixels) Soft(string name, AlphaMode mode, bool isStraight, int left = 20)
    {
        string alpha = _folder["alpha.exr"];
        Tool.Picture(alpha, "--create", "64x64", "1", "--fill:color=1", $"24x24+{left}+20", "--blur", "9x9", "-d", "float");
        Tool.Oiio([
            "--pattern",
            "constant:color=0.9,0.8,0.7",
            "64x64",
            "3",
            alpha,
            "--chappend",
            "--chnames",
            "R,G,B,A",
            .. isStraight ? Array.Empty<string>() : ["--premult"],
            "-d",
            "float",
            "-o",
            _folder[name + ".exr"],
        ]);
        var strip = new StackStrip
        {
            Name = name,
            Source = name + ".exr",
            Channels = ["R", "G", "B", "A"],
            Alpha = mode,
        };
        return (strip, StripPixels.Read(strip, Disk.Folder(_folder.Path), 1, 64, 64, 1, ReadLimits.Default, default));
    }

    [Theory]
    [InlineData(AlphaMode.Premultiplied, true, "bright rim")]
    [InlineData(AlphaMode.Straight, false, "dark rim")]
    [InlineData(AlphaMode.Premultiplied, false, null)]
    [InlineData(AlphaMode.Straight, true, null)]
    public void Alpha_read_the_wrong_way_is_named_by_its_rim(AlphaMode said, bool isStraight, string? rim)
    {
        var told = StackAdvice.OfPixels([Soft("disc", said, isStraight)]);
        if (rim is null)
        {
            Assert.Empty(told);
        }
        else
        {
            Assert.Contains(rim, Assert.Single(told).Words);
        }
    }

    [Fact]
    public void Soft_edges_that_two_layers_share_are_told()
    {
        // The second begins where the first ends: each holds the other out.
        var told = StackAdvice.OfPixels([
            Soft("left", AlphaMode.Premultiplied, false, 4),
            Soft("right", AlphaMode.Premultiplied, false, 28),
        ]);
        Assert.Equal("right", Assert.Single(told).Strip);
        Assert.Contains("shares soft edges with left", told[0].Words);
        Assert.Empty(
            StackAdvice.OfPixels([Soft("left", AlphaMode.Premultiplied, false, 0), Soft("right", AlphaMode.Premultiplied, false, 39)])
        );
    }

    [Fact]
    public void Frames_that_a_strip_lacks_are_told_as_they_are_asked_for()
    {
        var recipe = new StackRecipe
        {
            Schema = StackRecipe.SchemaName,
            Width = 4,
            Height = 4,
            Frames = FrameSet.Range(1001, 1004),
            FrameRate = new FrameRate(24, 1),
            Strips =
            [
                new StackStrip
                {
                    Name = "plate",
                    Source = "p.####.exr",
                    Channels = ["R"],
                    Offset = 10,
                    FrameRate = new FrameRate(25, 1),
                },
                new StackStrip
                {
                    Name = "still",
                    Source = "q.####.exr",
                    Channels = ["R"],
                    Hold = 7,
                },
            ],
        };
        var told = StackAdvice.OfRanges(recipe, _ => FrameSet.Range(1011, 1013));
        Assert.Equal(["plate", "plate"], told.Select(t => t.Strip));
        Assert.Contains("left over in every 25", told[0].Words);
        Assert.Equal("it has no frame for 1004: there it is left out", told[1].Words);
    }

    public void Dispose() => _folder.Dispose();
}
