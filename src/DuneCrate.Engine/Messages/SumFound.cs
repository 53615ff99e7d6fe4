using DuneCrate.Checking.Rebuild;

namespace DuneCrate.Engine.Messages;

/// <summary>What was measured of a sum.</summary>
/// <param name="Facts">The result; null where a file could not be read after all.</param>
public sealed record SumFound(RebuildFacts? Facts);
