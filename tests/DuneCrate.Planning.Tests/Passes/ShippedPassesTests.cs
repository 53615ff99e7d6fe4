using DuneCrate.Imaging;
using DuneCrate.Planning.Suggestions;

namespace DuneCrate.Planning.Tests.Passes;

/// <summary>
/// Adding a pass is an entry in <c>ShippedPasses</c> and a line here. Values: common practice of the trade, listed in the project's table
/// of passes.
/// </summary>
public class ShippedPassesTests
{
    private static readonly Plan Sub = DuneCrate.StandIns.Demo.DemoPlan.Create("KP010", FrameSet.Range(1001, 1004));

    [Theory] // key, an alias, kind, channels as planned, type as planned, operation
    [InlineData("caustics", "caustic", PassKind.Light, "caustics.R caustics.G caustics.B", ChannelType.Half, "plus")]
    [InlineData("thickness", "thick", PassKind.Data, "thickness.Y", ChannelType.Half, "none")]
    [InlineData("refraction", "trans", PassKind.Light, "refraction.R refraction.G refraction.B", ChannelType.Half, "plus")]
    [InlineData("depth", "zdepth", PassKind.Data, "Z", ChannelType.Float, "none")]
    [InlineData("object_id", "oid", PassKind.Identity, "object_id.Y", ChannelType.UInt, "none")]
    [InlineData("material_id", "matid", PassKind.Identity, "material_id.R material_id.G material_id.B", ChannelType.Half, "none")]
    public void An_entry_is_all_that_a_pass_needs(
        string key,
        string alias,
        PassKind kind,
        string channels,
        ChannelType type,
        string operation
    )
    {
        PassDefinition pass = PassCatalogue.Shipped.Find(key)!;
        Assert.Equal((kind, operation), (pass.Kind, pass.Operation));
        Assert.Equal(key, PassCatalogue.Shipped.KeyOf(alias));

        // It is planned with its channels, and alias and channel names lead back to it.
        Plan planned = Sub.Apply(new WriteCells([new CellText("sub", alias, "x")]));
        PassPlan made = planned.FindLayer("sub")!.FindPass(key)!;
        Assert.Equal(channels.Split(' '), made.Channels.Keys);
        Assert.All(made.Channels.Values, t => Assert.Equal(type, t));
        Assert.All(made.Channels.Keys, c => Assert.Equal(key, PassCatalogue.Shipped.PassOfChannel(c)));
        Assert.Empty(PlanValidation.Check(planned));
    }

    [Fact]
    public void Caustics_are_a_term_of_any_family()
    {
        Assert.Equal(
            "direct_diffuse + indirect_diffuse + caustics",
            string.Join(" + ", RebuildSum.Propose(PassCatalogue.Shipped, ["beauty", "direct_diffuse", "indirect_diffuse", "caustics"]))
        );
        Assert.Null(
            RebuildSum.MixedIn(
                PassCatalogue.Shipped,
                [new RebuildTerm("direct_light"), new RebuildTerm("caustics"), new RebuildTerm("specular")]
            )
        );
    }

    [Fact]
    public void Thickness_is_exact_and_never_summed()
    {
        PassDefinition thickness = PassCatalogue.Shipped.Find("thickness")!;
        Assert.True(thickness is { IsExact: true, Filtered: false, IsColour: false, Place: StackPlace.None });
        Assert.DoesNotContain(
            RebuildSum.Propose(PassCatalogue.Shipped, ["beauty", "diffuse", "specular", "thickness"]),
            t => t.Factors.Contains("thickness")
        );
    }

    [Fact]
    public void Every_entry_tells_its_receiver_how_to_use_it() =>
        Assert.All(PassCatalogue.Shipped.Passes, p => Assert.False(string.IsNullOrEmpty(p.ReceiverRemark), p.Key));

    [Fact]
    public void Every_key_that_an_entry_names_is_in_the_catalogue() =>
        Assert.All(
            PassCatalogue.Shipped.Passes.SelectMany(p => p.PartOf.Concat(p.StandIns).Append(p.Counterpart ?? p.Stem)),
            key => Assert.Contains(PassCatalogue.Shipped.Passes, p => p.Stem == key)
        );

    [Fact]
    public void Halves_of_a_pair_name_each_other() =>
        Assert.All(
            PassCatalogue.Shipped.Passes.Where(p => p.Counterpart is not null),
            p => Assert.Equal(p.Key, PassCatalogue.Shipped.Find(p.Counterpart!)!.Counterpart)
        );

    [Theory]
    [InlineData("zdepth", "depth")]
    [InlineData("DirectDiffuse", "direct_diffuse")]
    [InlineData("crypto_object", "cryptomatte.object")]
    [InlineData("lg_key", "light_group.key")]
    [InlineData("mask.lamps", "matte.lamps")]
    [InlineData("matte.lamps", "matte.lamps")]
    [InlineData("matte", null)]
    [InlineData("specimen", null)]
    [InlineData("my_diffuse", null)]
    public void Key_of_a_name_is_what_somebody_means(string name, string? key) => Assert.Equal(key, PassCatalogue.Shipped.KeyOf(name));

    [Fact]
    public void Former_keys_are_aliases_of_todays() =>
        Assert.All(FormerKeys.All, k => Assert.Equal(k.Value, PassCatalogue.Shipped.KeyOf(k.Key)));

    [Theory] // shadow, sum and mirror: what is in a pass follows from its entry alone
    [InlineData("emission", ItemTrait.Emits)]
    [InlineData("scattering", ItemTrait.Scattering)]
    [InlineData("refraction", ItemTrait.Transparent)]
    [InlineData("volume", ItemTrait.Volume)]
    public void A_filled_pass_shows_the_items_that_fill_it(string key, ItemTrait trait)
    {
        LayerPlan sub = Sub.FindLayer("sub")!;
        PassContents contents = PassContents.Compute(Sub, sub, PassPlanDefaults.Create(key, AlphaMode.None));
        string[] carriers = [.. Sub.Items.Where(i => i.IsVisible && i.Is(trait) && sub.RoleOf(i.Name).IsSeen()).Select(i => i.Name)];
        Assert.Equal(carriers, contents.Items);
        Assert.Empty(contents.Unseen);
    }
}
