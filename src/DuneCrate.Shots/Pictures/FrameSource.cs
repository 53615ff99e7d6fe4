using System.Collections.Immutable;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;

namespace DuneCrate.Shots.Pictures;

/// <summary>
/// A place where frames of a shot lie: its folder now or at an earlier check, another version, a folder beside it, a crate.
/// </summary>
/// <param name="Key">
/// Name in addresses: <c>version/v001</c>, <c>folder/KP020_v001</c>, <c>crate/12</c>, <c>check/</c> and when it ended, in UTC; empty for
/// the shot's folder.
/// </param>
/// <param name="Words">Name for people.</param>
/// <param name="Folder">The folder that names are relative to.</param>
/// <param name="NameOf">The name there of a pass that is in an output of the plan; null when it has none.</param>
public sealed record FrameSource(string Key, string Words, StoragePath Folder, Func<PlannedOutput, string, FrameName?> NameOf)
{
    /// <summary>The moment as of which files are looked at, UTC; null for now.</summary>
    public DateTime? AsOf { get; init; }

    /// <summary>What is added there to the number of a frame as it was rendered.</summary>
    public int FrameShift { get; init; }

    /// <summary>The channels there of a pass of a layer; null for those of the plan.</summary>
    public Func<PlannedOutput, string, ImmutableArray<string>?> ChannelsOf { get; init; } = (_, _) => null;
}
