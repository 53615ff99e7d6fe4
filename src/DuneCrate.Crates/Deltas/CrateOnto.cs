using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace DuneCrate.Crates.Deltas;

/// <summary>The crate that a delta was made onto, and what is new since then. Stays in the crate that both are joined to.</summary>
/// <param name="Name">Name of the older crate.</param>
/// <param name="Version">Its version.</param>
/// <param name="Sums">SHA-256 of its list of checksums: it and no other is meant.</param>
/// <param name="Changed">Passes with files that are new or differ from the older crate's.</param>
/// <param name="Gone">Files of the older crate that are in this one no more.</param>
public sealed record CrateOnto(
    string Name,
    int Version,
    string Sums,
    ImmutableArray<OntoChange> Changed,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)] int Gone
);
