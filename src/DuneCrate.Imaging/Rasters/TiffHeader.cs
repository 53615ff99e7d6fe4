using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging.Rasters;

/// <summary>
/// What the first directory of a TIFF says of its picture. Source: <em>TIFF Revision 6.0</em>, sections 8, 15, 18 and 19.
/// </summary>
internal static class TiffHeader
{
    private const int WidthTag = 256,
        HeightTag = 257,
        BitsTag = 258,
        CompressionTag = 259,
        PhotometricTag = 262,
        SamplesTag = 277,
        XResolutionTag = 282,
        YResolutionTag = 283,
        ExtraTag = 338,
        FormatTag = 339,
        TileWidthTag = 322,
        TileHeightTag = 323;

    private const int Palette = 3,
        Associated = 1,
        Unassociated = 2,
        MostSamples = 1024;

    /// <summary>Reads the directory and says what the picture is.</summary>
    /// <param name="stream">The file, at its start.</param>
    /// <param name="path">Its name, for errors.</param>
    /// <exception cref="ImageException">The directory is damaged, or samples of a pixel differ in depth.</exception>
    public static RasterHeader Read(FileStream stream, string path)
    {
        TiffDirectory tiff = TiffDirectory.Read(stream, path, (WidthTag, FormatTag));
        int samples = (int)tiff.One(SamplesTag, 1),
            bits = (int)tiff.One(BitsTag, 1),
            format = (int)tiff.One(FormatTag, 1);
        if (samples is < 1 or > MostSamples || tiff.All(BitsTag).Any(b => b != bits))
        {
            throw new ImageException(path, 0, $"the TIFF has {samples} samples of differing depth a pixel");
        }

        ChannelType? type = TypeOf(format, bits);
        string[] names = NamesOf(tiff, samples);
        int alpha = AlphaOf(tiff);
        bool isAssociated = alpha >= 0 && tiff.All(ExtraTag)[alpha] == Associated;
        return new RasterHeader
        {
            Format = "tiff",
            Width = (int)tiff.One(WidthTag, 0),
            Height = (int)tiff.One(HeightTag, 0),
            Type = type ?? ChannelType.Float,
            Channels = [.. names],
            Compression = CompressionOf((int)tiff.One(CompressionTag, 1)),
            Storage = tiff.Has(TileWidthTag) ? "tiles" : "strips",
            HeldBytes = HeldBytesOf(tiff, samples * Math.Max(1, bits / 8)),
            Alpha =
                !names.Contains("A") ? null
                : alpha < 0 ? "unspecified"
                : isAssociated ? "premultiplied"
                : "straight",
            AssociatedAt = isAssociated ? tiff.LowByteOf(ExtraTag, alpha) : null,
            PixelAspectRatio = AspectOf(tiff),
            FurtherPictures = tiff.Further,
            Unsupported =
                type is null ? $"TIFF samples of {bits} bits in format {format}"
                : type == ChannelType.Half ? "TIFF with 16-bit float samples"
                : null,
        };
    }

    private static ChannelType? TypeOf(int format, int bits) =>
        (format, bits) switch
        {
            (1 or 4, <= 8) => ChannelType.UInt8,
            (1 or 4, 16) => ChannelType.UInt16,
            (1 or 4, 32) => ChannelType.UInt,
            (3, 16) => ChannelType.Half,
            (3, 32) => ChannelType.Float,
            _ => null,
        };

    /// <summary>Which of the extra samples is alpha; negative when none says so.</summary>
    private static int AlphaOf(TiffDirectory tiff) => Array.FindIndex(tiff.All(ExtraTag), e => e is Associated or Unassociated);

    /// <summary>Channels by colour and extra samples; one extra sample that says nothing of itself is alpha.</summary>
    private static string[] NamesOf(TiffDirectory tiff, int samples)
    {
        int photometric = (int)tiff.One(PhotometricTag, 1);
        string[] colours = photometric switch
        {
            0 or 1 => ["Y"],
            5 => ["C", "M", "Y", "K"],
            _ => ["R", "G", "B"],
        };
        if (photometric == Palette)
        {
            return colours;
        }

        int left = Math.Max(0, samples - colours.Length),
            alpha = AlphaOf(tiff);
        bool isAlphaAlone = left == 1 && tiff.All(ExtraTag).Length == 0;
        IEnumerable<string> extras = Enumerable.Range(0, left).Select(i => i == alpha || isAlphaAlone ? "A" : $"extra{i + 1}");
        return [.. colours.Concat(extras).Take(samples)];
    }

    private static string CompressionOf(int number) =>
        number switch
        {
            1 => "none",
            5 => "lzw",
            6 or 7 => "jpeg",
            8 or 32946 => "deflate",
            32773 => "packbits",
            50000 => "zstd",
            34925 => "lzma",
            var other => $"compression {other}",
        };

    /// <summary>Bytes of a row of tiles, which is held at once; 0 for strips.</summary>
    private static long HeldBytesOf(TiffDirectory tiff, int bytesPerPixel)
    {
        double line = Math.Max(tiff.One(WidthTag, 0), tiff.One(TileWidthTag, 0)) * bytesPerPixel;
        return tiff.Has(TileWidthTag) ? (long)Math.Min(line * tiff.One(TileHeightTag, 0), long.MaxValue / 2) : 0;
    }

    private static double AspectOf(TiffDirectory tiff)
    {
        (double across, double down) = (tiff.One(XResolutionTag, 1), tiff.One(YResolutionTag, 1));
        return across > 0 && down > 0 && PixelAspect.Is(down / across) ? down / across : 1;
    }
}
