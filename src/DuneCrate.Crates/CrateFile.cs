using System.Collections.Immutable;
using DuneCrate.Crates.Converting;

namespace DuneCrate.Crates;

/// <summary>One file that goes into a crate.</summary>
/// <param name="Sources">What it comes from: one file for a copy, one or more for what is converted.</param>
/// <param name="To">Path in the crate.</param>
/// <param name="Frame">Its frame, as it was rendered.</param>
/// <param name="Conversion">How it is made; null for a copy.</param>
public sealed record CrateFile(ImmutableArray<CrateSource> Sources, string To, int Frame, FileConversion? Conversion = null)
{
    /// <summary>Path of the first source.</summary>
    public string From => Sources[0].Path;

    /// <summary>Bytes of its sources.</summary>
    public long Bytes => Sources.Sum(s => s.Bytes);
}
