using DuneCrate.Exr;
using DuneCrate.Imaging.Cryptomatte;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Tests.Pictures;

/// <summary>Mattes by name. Source: Cryptomatte specification 1.2, "Extracting mattes" and its example of MurmurHash3.</summary>
public class CryptoMaskTests
{
    private static readonly float Hull = CryptomatteHash.ToFloat(CryptomatteHash.OfName("hull")),
        Dome = CryptomatteHash.ToFloat(CryptomatteHash.OfName("dome"));

    /// <summary>Two ranks over three pixels: the hull alone, hull and dome at an edge, nothing.</summary>
    private static readonly PassPixels Ranks = new(
        "cryptomatte.object",
        PassCatalogue.Shipped.Find("cryptomatte.object"),
        PixelBox.OfSize(3, 1),
        1,
        [
            ("CryptoObject00.A", [0, 0.25f, 0]),
            ("CryptoObject00.B", [0, Dome, 0]),
            ("CryptoObject00.G", [1, 0.75f, 0]),
            ("CryptoObject00.R", [Hull, Hull, 0]),
        ],
        null
    );

    [Fact]
    public void A_mask_is_the_coverage_of_its_id_over_all_ranks()
    {
        Assert.Equal([1, 0.75f, 0], CryptoMask.Of(Ranks, "hull").Channels[0].Plane);
        Assert.Equal([0, 0.25f, 0], CryptoMask.Of(Ranks, "dome").Channels[0].Plane);
        Assert.Equal([0, 0, 0], CryptoMask.Of(Ranks, "nobody").Channels[0].Plane);
        Assert.Equal(191, PictureMaker.Render(CryptoMask.Of(Ranks, "hull"), new PictureSettings()).Rgb[3]);
    }

    [Fact]
    public void Ids_are_listed_by_what_they_cover_and_named_by_the_manifest()
    {
        Assert.Equal([(Hull, 1.75 / 3), (Dome, 0.25 / 3)], CryptoMask.Covered(Ranks).ToArray());
        var names = CryptoMask.Names($$"""{"hull":"{{BitConverter.SingleToUInt32Bits(Hull):x8}}","dome":7}""");
        Assert.Empty(names); // A hash that is no text: the manifest is not to be trusted.
        names = CryptoMask.Names($$"""{"hull":"{{BitConverter.SingleToUInt32Bits(Hull):x8}}"}""");
        Assert.Equal("hull", names[Hull]);
        Assert.Empty(CryptoMask.Names("no json"));
    }
}
