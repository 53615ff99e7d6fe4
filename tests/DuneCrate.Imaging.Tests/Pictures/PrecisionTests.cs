using DuneCrate.Exr;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Imaging.Pictures.Precision;

namespace DuneCrate.Imaging.Tests.Pictures;

/// <summary>What a pass loses when it is stored with fewer bits.</summary>
public sealed class PrecisionTests : IDisposable
{
    private readonly TempFolder _folder = new();

    private static PassPixels Ramp(int width, float from, float to) =>
        new(
            PassKeys.Beauty,
            null,
            PixelBox.OfSize(width, 1),
            1,
            [.. "RGB".Select(c => (c.ToString(), Enumerable.Range(0, width).Select(i => from + (to - from) * i / (width - 1)).ToArray()))],
            null
        );

    /// <summary>
    /// Middle grey at +2 stops was 0.045 before: IEC 61966-2-1 makes it 59.9 of 255, so that codes 0 to 60 are all that 8
    /// bits have below it, of the 119 that the display shows.
    /// </summary>
    [Fact]
    public void Eight_bits_leave_the_levels_that_the_curve_of_sRGB_gives()
    {
        PrecisionLesson eight = PrecisionLesson.Of(Ramp(20_000, 0, 0.25f), StoredAs.EightBit, 2, 1),
            half = PrecisionLesson.Of(Ramp(20_000, 0, 0.25f), StoredAs.Half, 2, 1);
        Assert.All(eight.Shadows, s => Assert.Equal(61, s));
        Assert.All(half.Shadows, s => Assert.Equal(119, s));
        Assert.Equal("at +2 stops 8-bit leaves 61 levels in the shadows", eight.Sentence);
        Assert.True(eight.Banded > 0);
        Assert.Equal(0, half.Banded);
        Assert.Equal(0, PrecisionLesson.Of(Ramp(20_000, 0, 0.25f), StoredAs.SixteenBit, 2, 1).Banded);
    }

    [Fact]
    public void Eight_bits_are_those_that_oiiotool_writes()
    {
        Tool.Oiio("--create", "64x4", "3", "--noise:type=uniform:min=0:max=1.2:seed=4", "-d", "float", "-o", _folder["a.exr"]);
        Tool.Oiio(_folder["a.exr"], "--colorconvert", "linear", "sRGB", "-d", "uint8", "-o", _folder["a.png"]);
        Tool.Oiio(_folder["a.png"], "--colorconvert", "sRGB", "linear", "-d", "float", "-o", _folder["b.exr"]);
        PassPixels Read(string name)
        {
            using ExrFile file = Disk.Exr(_folder[name]);
            ExrImage image = ExrImage.Read(file, file.Parts[0], null, out _, default);
            return new PassPixels(
                PassKeys.Beauty,
                null,
                PixelBox.OfSize(64, 4),
                1,
                [.. "RGB".Select(c => (c.ToString(), image.Planes[c.ToString()]))],
                null
            );
        }

        PrecisionLesson lesson = PrecisionLesson.Of(Read("a.exr"), StoredAs.EightBit, 0, 1);
        PassPixels theirs = Read("b.exr");
        for (int c = 0; c < 3; c++)
        {
            Assert.All(theirs.Channels[c].Plane.Zip(lesson.Graded.Channels[c].Plane), p => Assert.Equal(p.First, p.Second, 1e-4f));
        }

        Assert.True(lesson.Clipped > 0);
    }

    public void Dispose() => _folder.Dispose();
}
