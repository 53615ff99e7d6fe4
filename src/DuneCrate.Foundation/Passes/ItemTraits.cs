namespace DuneCrate.Foundation.Passes;

/// <summary>Words of the traits.</summary>
public static class ItemTraits
{
    /// <summary>What an item with the trait does: "emits", "is glossy".</summary>
    public static string Verb(this ItemTrait trait) => Words(trait).One;

    /// <summary>What items with the trait do, by how many they are: "emits", "emit".</summary>
    public static string Verb(this ItemTrait trait, int count) => count == 1 ? Words(trait).One : Words(trait).Many;

    private static (string One, string Many) Words(ItemTrait trait) =>
        trait switch
        {
            ItemTrait.Emits => ("emits", "emit"),
            ItemTrait.Transparent => ("is transparent", "are transparent"),
            ItemTrait.Glossy => ("is glossy", "are glossy"),
            ItemTrait.Scattering => ("scatters light", "scatter light"),
            ItemTrait.CutOut => ("is cut out", "are cut out"),
            ItemTrait.Animated => ("moves", "move"),
            ItemTrait.Volume => ("is a volume", "are volumes"),
            _ => throw new ArgumentOutOfRangeException(nameof(trait), trait, "There is no such trait."),
        };
}
