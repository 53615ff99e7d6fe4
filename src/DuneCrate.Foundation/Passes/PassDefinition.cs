using System.Collections.Immutable;

namespace DuneCrate.Foundation.Passes;

/// <summary>
/// One entry of the pass catalogue: everything that the product knows about a pass. Plan, rules, measures, estimates, stack and slip read
/// it
/// here and name no pass themselves but those in <see cref="PassKeys"/>. Immutable.
/// </summary>
public sealed record PassDefinition
{
    /// <summary>Stable key; a trailing <c>.*</c> stands for a family with a name of one's own, such as <c>matte.lamps</c>.</summary>
    public required string Key { get; init; }

    /// <summary>The name people use.</summary>
    public required string TradeName { get; init; }

    /// <summary>Other names it arrives under.</summary>
    public ImmutableArray<string> Aliases { get; init; } = [];

    /// <summary>What it is.</summary>
    public required PassKind Kind { get; init; }

    /// <summary>Last parts of its channel names, in the order they are shown.</summary>
    public ImmutableArray<string> Channels { get; init; } = ["R", "G", "B"];

    /// <summary>What stands before them; null for the key and a dot. <c>{Name}</c> is the family member's name with a capital.</summary>
    public string? Prefix { get; init; }

    /// <summary>The shallowest type that holds it.</summary>
    public ChannelType LeastType { get; init; } = ChannelType.Half;

    /// <summary>The type it is planned with unless somebody says otherwise: OpenEXR has no 8-bit samples, so those become half.</summary>
    public ChannelType UsualType
    {
        get =>
            field != default ? field
            : LeastType == ChannelType.UInt8 ? ChannelType.Half
            : LeastType;
        init;
    }

    /// <summary>Whether samples are filtered into pixels.</summary>
    public bool Filtered { get; init; } = true;

    /// <summary>Legal values in words.</summary>
    public string Range { get; init; } = "≥ 0";

    /// <summary>Unit of its samples; empty where they have none.</summary>
    public string Unit { get; init; } = "";

    /// <summary>How a compositor usually lays it in: over, plus, multiply or none.</summary>
    public string Operation { get; init; } = "none";

    /// <summary>Where it lies in its layer's stack.</summary>
    public StackPlace Place { get; init; }

    /// <summary>Packed bytes over raw bytes as ZIP, before anything was measured (docs/estimates.md).</summary>
    public double PackedShare { get; init; } = 0.5;

    /// <summary>What is measured of it.</summary>
    public PassMeasures Measures { get; init; }

    /// <summary>How finely it splits the light.</summary>
    public PassFamily Family { get; init; }

    /// <summary>Keys of the coarser passes that hold the same light, and must not stand in one sum with it.</summary>
    public ImmutableArray<string> PartOf { get; init; } = [];

    /// <summary>
    /// The other half, without which it does not make a whole: direct and indirect, albedo and irradiance; null for none.
    /// </summary>
    public string? Counterpart { get; init; }

    /// <summary>Passes that make up for it in a sum where it is not planned.</summary>
    public ImmutableArray<string> StandIns { get; init; } = [];

    /// <summary>Traits of items, any of which puts something into it; the first proposes it. Empty when every scene fills it.</summary>
    public ImmutableArray<ItemTrait> FilledBy { get; init; } = [];

    /// <summary>How much it is wanted where an item fills it.</summary>
    public PassNeed Permission { get; init; }

    /// <summary>Which items are seen in it.</summary>
    public PassSource Source { get; init; }

    /// <summary>Roles of items that act on it without being seen, such as the shadow of what is not there.</summary>
    public ImmutableArray<ItemRole> UnseenRoles { get; init; } = [];

    /// <summary>Traits of items that darken or break it although nothing is wrong with them.</summary>
    public ImmutableArray<ItemTrait> SpoiltBy { get; init; } = [];

    /// <summary>What to know when it is planned.</summary>
    public string Remark { get; init; } = "";

    /// <summary>What its receiver must know to use it.</summary>
    public string ReceiverRemark { get; init; } = "";

    /// <summary>Whether the key stands for a family of passes with names of one's own.</summary>
    public bool IsFamily => Key.EndsWith(".*", StringComparison.Ordinal);

    /// <summary>The key without the family's star: <c>matte</c> of <c>matte.*</c>.</summary>
    public string Stem => IsFamily ? Key[..^2] : Key;

    /// <summary>Whether negative values are impossible in it.</summary>
    public bool IsNonNegative => !IsExact;

    /// <summary>Whether its values must stay as they are: never filtered, never lossy.</summary>
    public bool IsExact => Kind is PassKind.Data or PassKind.Identity;

    /// <summary>Whether the values are colour or light, which a view transform is made for.</summary>
    public bool IsColour => Kind is PassKind.Combined or PassKind.Light or PassKind.Factor or PassKind.Modulate or PassKind.Look;

    /// <summary>Whether something is measured of it.</summary>
    public bool Has(PassMeasures measure) => (Measures & measure) != 0;

    /// <summary>The names of its channels for a key of its own or of a member of its family.</summary>
    /// <param name="key">The key as planned, such as <c>matte.lamps</c>.</param>
    public IEnumerable<string> ChannelNames(string key)
    {
        string member = key.Length > Stem.Length ? key[(Stem.Length + 1)..] : "";
        string name = member.Length > 0 ? char.ToUpperInvariant(member[0]) + member[1..] : "";
        string prefix = Prefix?.Replace("{Name}", name, StringComparison.Ordinal) ?? key + ".";
        return Channels.Select(c => prefix + c);
    }

    /// <summary>An entry with what passes of a kind have in common.</summary>
    public static PassDefinition Create(PassKind kind, string key, string tradeName)
    {
        var pass = new PassDefinition
        {
            Key = key,
            TradeName = tradeName,
            Kind = kind,
        };
        return kind switch
        {
            PassKind.Combined => pass with
            {
                Channels = ["R", "G", "B", "A"],
                Operation = "over",
                Place = StackPlace.Base,
                PackedShare = 0.55,
                Measures = PassMeasures.Fireflies | PassMeasures.Picture | PassMeasures.Alpha | PassMeasures.Coverage,
                UnseenRoles = [ItemRole.ShadowOnly, ItemRole.ReflectionOnly],
            },
            PassKind.Light => pass with
            {
                Operation = "plus",
                PackedShare = 0.40,
                Measures = PassMeasures.Fireflies | PassMeasures.Coverage,
                UnseenRoles = [ItemRole.ShadowOnly, ItemRole.ReflectionOnly],
            },
            PassKind.Factor => pass with { Operation = "multiply", PackedShare = 0.40, Measures = PassMeasures.Coverage },
            PassKind.Modulate => pass with
            {
                Range = "0..1",
                Operation = "multiply",
                Place = StackPlace.Above,
                PackedShare = 0.30,
                Measures = PassMeasures.Ground,
            },
            PassKind.Mask => pass with { Range = "0..1", PackedShare = 0.05 },
            PassKind.Data => pass with { Filtered = false, Range = "any", PackedShare = 0.45 },
            PassKind.Identity => pass with { LeastType = ChannelType.UInt8, Filtered = false, PackedShare = 0.08 },
            PassKind.Look => pass with { LeastType = ChannelType.UInt8, Range = "0..1", Operation = "over", PackedShare = 0.05 },
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "There is no such kind of pass."),
        };
    }
}
