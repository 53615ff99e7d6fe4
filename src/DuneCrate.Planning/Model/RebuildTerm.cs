using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace DuneCrate.Planning.Model;

/// <summary>
/// One addend of the rebuild: a pass, or the product of two (albedo × irradiance). Written as a text or an array of texts.
/// </summary>
[JsonConverter(typeof(RebuildTermJsonConverter))]
public readonly record struct RebuildTerm
{
    /// <summary>A term of the given factors.</summary>
    public RebuildTerm(params ImmutableArray<string> factors) => Factors = factors;

    /// <summary>Pass keys that are multiplied; one for a plain pass.</summary>
    public ImmutableArray<string> Factors { get; }

    /// <summary>The form for people: <c>albedo × irradiance</c>.</summary>
    public override string ToString() => string.Join(" × ", Factors);

    /// <summary>Equal when the factors are, in order.</summary>
    public bool Equals(RebuildTerm other) => Factors.AsSpan().SequenceEqual(other.Factors.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => string.Join('×', Factors).GetHashCode(StringComparison.Ordinal);
}
