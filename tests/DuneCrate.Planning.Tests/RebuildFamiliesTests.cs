using DuneCrate.Imaging;

namespace DuneCrate.Planning.Tests;

/// <summary>The sums that a layer's passes allow, beside the one that is planned. Families: common practice.</summary>
public sealed class RebuildFamiliesTests
{
    private static LayerPlan Layer(string passes, string sum) =>
        new()
        {
            Name = "sub",
            Rebuild = RebuildSum.Parse(sum),
            Outputs =
            [
                new OutputPlan
                {
                    Template = "{layer}.{frame}.exr",
                    Padding = 4,
                    Compression = "zip",
                    Passes = [.. passes.Split(' ').Select(p => PassPlanDefaults.Create(p, AlphaMode.None))],
                },
            ],
        };

    private static Dictionary<string, string> Families(string passes, string sum) =>
        RebuildSum
            .Families(PassCatalogue.Shipped, Layer(passes, sum))
            .ToDictionary(f => f.Name, f => string.Join(" + ", f.Terms.Select(t => t.ToString()).Order(StringComparer.Ordinal)));

    [Fact]
    public void Each_fineness_that_is_whole_is_offered_once()
    {
        Dictionary<string, string> all = Families(
            "beauty diffuse direct_diffuse indirect_diffuse specular emission albedo irradiance light_group.key light_group.rim",
            "diffuse + specular + emission"
        );
        Assert.Equal("diffuse + emission + specular", all["as planned"]);
        Assert.Equal("direct_diffuse + emission + indirect_diffuse + specular", all["the finest split"]);
        Assert.Equal("albedo × irradiance + emission + specular", all["albedo × irradiance"]);
        Assert.Equal("light_group.key + light_group.rim", all["light groups"]);
        Assert.DoesNotContain("a pass for each surface", all.Keys); // It is the planned one.
    }

    [Fact]
    public void What_the_passes_do_not_allow_is_not_offered()
    {
        Dictionary<string, string> all = Families(
            "beauty direct_diffuse indirect_diffuse specular",
            "direct_diffuse + indirect_diffuse + specular"
        );
        Assert.Equal(["as planned"], all.Keys);
    }
}
