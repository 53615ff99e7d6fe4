using DuneCrate.Checking.Intake;

namespace DuneCrate.Exr.Tests.Images;

/// <summary>
/// Every compression, sample type and layout that Debian's tools write, against what the reference library and oiiotool make of the same
/// file.
/// </summary>
public class ExrReadingTests(ToolPictures pictures) : IClassFixture<ToolPictures>
{
    public static TheoryData<string, string> EveryWay => new(ToolPictures.EveryWay());

    [Theory]
    [MemberData(nameof(EveryWay))]
    public void Samples_are_those_of_the_reference_library(string compression, string layout)
    {
        foreach (string type in ToolPictures.Types)
        {
            string path = pictures[type, compression, layout];
            using ExrFile file = Disk.Exr(path);
            Assert.Equal(compression, file.Parts[0].Compression.Name);
            Assert.Equal(layout is "mipmap" or "ripmap", file.Parts[0].Chunks.SmallerLevels > 0);
            Assert.Equal(layout == "parts" ? 2 : 1, file.Parts.Length);
            string[] plain = ToolPictures.Plain(path, file.Parts.Length);
            foreach (ExrPart part in file.Parts)
            {
                using ExrFile oracle = Disk.Exr(plain[part.Index]);
                AssertSame(
                    ExrImage.Read(oracle, oracle.Parts[0], null, out _, default),
                    ExrImage.Read(file, part, null, out string? problem, default),
                    $"{type}, part {part.Index}",
                    compression.StartsWith("dwa", StringComparison.Ordinal)
                );
                Assert.Null(problem);
            }
        }
    }

    [Theory]
    [MemberData(nameof(EveryWay))]
    public void Statistics_are_those_of_oiiotool(string compression, string layout)
    {
        foreach (string type in ToolPictures.Types.Where(t => t != "uint"))
        {
            string path = pictures[type, compression, layout];
            FileFacts facts = Disk.Facts(path, new FactsRequest(FactsDepth.Pixels));
            Assert.Null(facts.Problem);
            Dictionary<string, ToolStats> expected = pictures.Stats[path];
            Assert.Equal(5, expected.Count);
            Assert.All(
                facts.Parts[0].Channels,
                c => Assert.True(expected[c.Name].IsNear(c.Samples!), $"{type} {c.Name}: {expected[c.Name]} expected, {c.Samples} found")
            );
        }
    }

    /// <summary>
    /// To the bit, but for DWA: its cosine transform is summed in float, and the order of the sums is each reader's own. Where the sum
    /// falls beside a
    /// rounding boundary of half, the value in DWA's own curve is the next half, which is up to 0.4 % of the sample: allowed in one sample
    /// of a thousand.
    /// </summary>
    private static void AssertSame(ExrImage expected, ExrImage found, string what, bool rounds)
    {
        Assert.Equal(expected.Planes.Keys.Order(), found.Planes.Keys.Order());
        foreach ((string channel, float[] plane) in expected.Planes)
        {
            (float Expected, float Found)[] differing =
            [
                .. plane
                    .Zip(found.Planes[channel])
                    .Where(p => BitConverter.SingleToInt32Bits(p.First) != BitConverter.SingleToInt32Bits(p.Second)),
            ];
            Assert.True(
                differing.Length <= (rounds ? plane.Length / 1000 : 0)
                    && differing.All(d => Math.Abs(d.Expected - d.Found) <= 0.004f * Math.Abs(d.Expected)),
                $"{what}: {differing.Length} of {plane.Length} samples of {channel} differ; {differing.FirstOrDefault()}"
            );
        }
    }
}
