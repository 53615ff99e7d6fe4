using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Tests.Intake;

/// <summary>
/// What is measured on halves as they are stored is what is measured on the same numbers as floats: every half there is, NaN and infinity
/// and those too small to be normal, in widths that no vector divides. The sums of a rebuild are the same to the last bit.
/// </summary>
public sealed class StoredHalvesTests : IDisposable
{
    private static readonly string[] Names =
    [
        .. new[] { "", "direct_diffuse.", "emission." }.SelectMany(p => "RGB".Select(c => $"{p}{c}")),
        "A",
    ];

    private readonly TempFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    [Theory]
    [InlineData(1, 3)]
    [InlineData(16, 20)]
    [InlineData(33, 70)]
    [InlineData(101, 40)]
    public void Alpha_and_rebuild_of_halves_are_those_of_floats(int width, int height)
    {
        var random = new Random(width);
        var planes = Names.ToImmutableDictionary(n => n, n => Plane(random, width * height, isAlpha: n == "A"));
        FileFacts halves = Facts(planes, width, height, ChannelType.Half),
            floats = Facts(planes, width, height, ChannelType.Float);
        AlphaFacts alpha = halves.Parts[0].Passes!.Value.Single(p => p.Pass == PassKeys.Beauty).Alpha!,
            same = floats.Parts[0].Passes!.Value.Single(p => p.Pass == PassKeys.Beauty).Alpha!;
        Assert.Equal((same.Empty, same.Lit, same.Soft, same.Above), (alpha.Empty, alpha.Lit, alpha.Soft, alpha.Above));
        Assert.Equal(same.At, alpha.At);
        RebuildFacts sum = halves.Rebuild!,
            other = floats.Rebuild!;
        Assert.Equal(
            (other.MeanResidual, other.OffShare, other.MaxResidual, other.Cause),
            (sum.MeanResidual, sum.OffShare, sum.MaxResidual, sum.Cause)
        );
        Assert.Equal(other.Worst, sum.Worst);
    }

    /// <summary>Halves of all kinds; of alpha many that are 0, 1 or between.</summary>
    private static float[] Plane(Random random, int pixels, bool isAlpha)
    {
        float[] plane = new float[pixels];
        for (int i = 0; i < pixels; i++)
        {
            plane[i] = random.Next(8) switch
            {
                0 or 1 => 0,
                2 => isAlpha ? 1 : (float)(Half)0.001f,
                3 or 4 => (float)(Half)random.NextSingle(),
                5 => (float)(Half)(random.NextSingle() * 1e-6f),
                6 => (float)(Half)(-random.NextSingle()),
                _ => (float)BitConverter.UInt16BitsToHalf((ushort)random.Next(65536)),
            };
        }

        return plane;
    }

    private FileFacts Facts(ImmutableDictionary<string, float[]> planes, int width, int height, ChannelType type)
    {
        string file = _folder[$"{type}.exr"];
        PixelBox window = PixelBox.OfSize(width, height);
        var part = new ExrPart(
            Names.Order(StringComparer.Ordinal).Select(n => new ExrChannel(n, type.ToExr())),
            window,
            window,
            ExrCompression.Zip,
            []
        );
        ExrWriter.Write(Disk.File(file), new ExrImage(part, planes));
        var recipe = new RebuildRecipe(["R", "G", "B"], [Term("direct_diffuse"), Term("emission")]);
        return Disk.Facts(file, new FactsRequest(FactsDepth.Pixels) { Rebuild = recipe });
    }

    private static RebuildRecipeTerm Term(string pass) =>
        new(
            pass,
            [
                [$"{pass}.R", $"{pass}.G", $"{pass}.B"],
            ]
        );
}
