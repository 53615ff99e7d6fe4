using DuneCrate.Checking.Intake;
using DuneCrate.Exr;
using DuneCrate.Imaging.Rasters;
using NetVips;

namespace DuneCrate.Imaging.Tests.Images.Rasters;

/// <summary>Small files whose pixels would take long: refused by what they claim, before anything is unpacked.</summary>
public sealed class RasterBombTests : IDisposable
{
    private readonly TempFolder _folder = new();

    /// <summary>A white page of 1-bit samples in CCITT group 4, of which a line takes one bit; and an empty picture in LZMA.</summary>
    [Theory]
    [InlineData(16384, 16384, true)]
    [InlineData(1, 262144, false)]
    public void A_tiny_file_that_claims_an_enormous_picture_is_refused(int width, int height, bool isFax)
    {
        string path = _folder["bomb.tif"];
        using (Image empty = Image.Black(width, height))
        {
            if (isFax)
            {
                empty.Tiffsave(path, compression: Enums.ForeignTiffCompression.Ccittfax4, bitdepth: 1);
            }
            else
            {
                empty.Tiffsave(path, compression: Enums.ForeignTiffCompression.Deflate);
            }
        }

        Assert.InRange(new FileInfo(path).Length, 1, 200_000);
        FileFacts facts = Disk.Facts(path);
        Assert.Equal(ImageProblem.Unreadable, facts.Trouble);
        Assert.Contains("far more than it can hold", facts.Problem);
    }

    /// <summary>An empty frame of the usual sizes is no bomb.</summary>
    [Theory]
    [InlineData("png", 4096, 2160)]
    [InlineData("tif", 4096, 2160)]
    [InlineData("tif", 7680, 4320)]
    [InlineData("jpg", 7680, 4320)]
    public void An_empty_frame_is_read(string extension, int width, int height)
    {
        string path = _folder["empty." + extension];
        using (Image empty = Image.Black(width, height, bands: 3))
        {
            if (extension == "tif")
            {
                empty.Tiffsave(path, compression: Enums.ForeignTiffCompression.Deflate);
            }
            else
            {
                empty.WriteToFile(path);
            }
        }

        FileFacts facts = Disk.Facts(path);
        Assert.Null(facts.Problem);
        Assert.Equal(0, facts.Parts[0].Channels[0].Samples!.Max);
    }

    /// <summary>The library's sentences about damaged files come once each, not once a tile of a file.</summary>
    [Fact]
    public void Warnings_of_the_library_are_told_once()
    {
        string path = _folder["cut.jpg"];
        using (Image noise = Image.Gaussnoise(300, 200, seed: 1).Cast(Enums.BandFormat.Uchar))
        {
            noise.WriteToFile(path);
        }

        byte[] whole = File.ReadAllBytes(path);
        var told = new System.Collections.Concurrent.ConcurrentQueue<string>();
        VipsWarnings.Told = told.Enqueue;
        for (int cut = 2; cut < 12; cut++)
        {
            File.WriteAllBytes(path, whole[..(whole.Length * cut / 14)]);
            Assert.NotNull(Disk.Facts(path).Problem);
        }

        VipsWarnings.Told = null;
        Assert.Equal(told.Distinct().Count(), told.Count);
        Assert.InRange(told.Count, 0, 4);
    }

    /// <summary>What it says of ordinary work, such as which of its loaders it took, is no warning.</summary>
    [Fact]
    public void A_whole_file_is_no_reason_to_warn()
    {
        string path = _folder["whole.png"];
        using (Image noise = Image.Gaussnoise(300, 200, seed: 1).Cast(Enums.BandFormat.Uchar))
        {
            noise.WriteToFile(path);
        }

        Assert.Null(Disk.Facts(path).Problem);
        var told = new System.Collections.Concurrent.ConcurrentQueue<string>();
        VipsWarnings.Told = told.Enqueue;
        using (Image small = Image.Thumbnail(path, 50))
        {
            small.WriteToBuffer(".png");
        }

        VipsWarnings.Told = null;
        Assert.Empty(told);
    }

    public void Dispose() => _folder.Dispose();
}
