using System.Collections.Immutable;

namespace DuneCrate.Core.Passes;

/// <summary>One entry of the pass catalogue.</summary>
/// <param name="Key">Stable key; a trailing <c>.*</c> stands for a family with a name of one's own, such as <c>matte.lamps</c>.</param>
/// <param name="TradeName">The name people use.</param>
/// <param name="Aliases">Other names it arrives under.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Channels">Last parts of its channel names, in the order they are shown.</param>
/// <param name="LeastType">The shallowest type that holds it.</param>
/// <param name="Filtered">Whether samples are filtered into pixels.</param>
/// <param name="Range">Legal values in words.</param>
/// <param name="Operation">How a compositor usually lays it in: over, plus, multiply or none.</param>
/// <param name="Remark">What to know about it.</param>
public sealed record PassDefinition(
    string Key,
    string TradeName,
    ImmutableArray<string> Aliases,
    PassKind Kind,
    ImmutableArray<string> Channels,
    ChannelType LeastType,
    bool Filtered,
    string Range,
    string Operation,
    string Remark
)
{
    /// <summary>Whether the key stands for a family of passes with names of one's own.</summary>
    public bool IsFamily => Key.EndsWith(".*", StringComparison.Ordinal);

    /// <summary>The key without the family's star: <c>matte</c> of <c>matte.*</c>.</summary>
    public string Stem => IsFamily ? Key[..^2] : Key;

    /// <summary>Whether negative values are impossible in it.</summary>
    public bool IsNonNegative => Kind is not (PassKind.Data or PassKind.Identity);

    /// <summary>Whether the values are colour or light, which a view transform is made for.</summary>
    public bool IsColour => Kind is PassKind.Combined or PassKind.Light or PassKind.Factor or PassKind.Modulate or PassKind.Look;
}
