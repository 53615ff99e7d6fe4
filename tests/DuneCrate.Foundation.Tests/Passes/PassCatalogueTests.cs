namespace DuneCrate.Foundation.Tests.Passes;

public class PassCatalogueTests
{
    [Theory] // OpenEXR's channel naming: Technical Introduction to OpenEXR, channels and layers; aliases are common practice.
    [InlineData("R", "beauty")]
    [InlineData("A", "beauty")]
    [InlineData("Z", "depth")]
    [InlineData("direct_diffuse.R", "direct_diffuse")]
    [InlineData("diff_dir.G", "direct_diffuse")]
    [InlineData("DirectDiffuse.B", "direct_diffuse")]
    [InlineData("spec.R", "specular")]
    [InlineData("refl.R", "reflection")]
    [InlineData("N.X", "normal")]
    [InlineData("P.Z", "position")]
    [InlineData("motion_vectors.X", "motion")]
    [InlineData("matte.lamps.R", "matte.lamps")]
    [InlineData("CryptoObject00.R", "cryptomatte.object")]
    [InlineData("lg_lamp.R", "light_group.lamp")]
    [InlineData("sss.R", "scattering")]
    [InlineData("wobble.R", null)]
    public void PassOfChannel_reads_names_and_aliases(string channel, string? pass) =>
        Assert.Equal(pass, PassCatalogue.Shipped.PassOfChannel(channel));

    [Fact]
    public void Aliases_match_whole_words_only() => Assert.Null(PassCatalogue.Shipped.FindByAlias("specimen"));

    [Fact]
    public void Longest_alias_wins() => Assert.Equal("ao", PassCatalogue.Shipped.FindByAlias("ambient_occlusion")!.Key);

    [Theory]
    [InlineData("beauty", true)]
    [InlineData("matte.lamps", true)]
    [InlineData("matte", false)]
    [InlineData("matte.", false)]
    [InlineData("beauty.x", false)]
    [InlineData("glow", false)]
    public void TryFind_wants_families_with_a_name(string key, bool found) =>
        Assert.Equal(found, PassCatalogue.Shipped.TryFind(key, out _));

    [Fact]
    public void Every_entry_has_channels_and_data_is_never_filtered()
    {
        Assert.All(PassCatalogue.Shipped.Passes, p => Assert.NotEmpty(p.Channels));
        Assert.All(PassCatalogue.Shipped.Passes.Where(p => p.Kind is PassKind.Data or PassKind.Identity), p => Assert.False(p.Filtered));
        Assert.All(PassCatalogue.Shipped.Passes.Where(p => p.Kind == PassKind.Light), p => Assert.Equal("plus", p.Operation));
    }

    [Theory]
    [InlineData(ChannelType.Half, ChannelType.Float, true)]
    [InlineData(ChannelType.UInt8, ChannelType.Half, true)]
    [InlineData(ChannelType.UInt16, ChannelType.Half, true)]
    [InlineData(ChannelType.Float, ChannelType.Half, false)]
    [InlineData(ChannelType.Half, ChannelType.UInt8, false)]
    [InlineData(ChannelType.Float, ChannelType.UInt, true)]
    [InlineData(ChannelType.Half, ChannelType.Half, false)]
    public void LosesAgainst_knows_what_types_hold(ChannelType found, ChannelType planned, bool loses) =>
        Assert.Equal(loses, found.LosesAgainst(planned));

    [Fact]
    public void Type_names_are_those_of_documents() => Assert.Equal(["uint8", "uint16", "half", "uint", "float"], ChannelTypes.All);
}
