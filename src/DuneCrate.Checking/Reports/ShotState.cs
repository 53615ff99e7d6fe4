using System.Collections.Immutable;

namespace DuneCrate.Checking.Reports;

/// <summary>What a summary needs of a shot.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Lanes">Its frame map.</param>
/// <param name="Report">The newest report with waivers and notes, or null before the first check.</param>
/// <param name="Checked">When that ended, UTC.</param>
/// <param name="IsStale">Whether the plan was changed since.</param>
/// <param name="Crate">The newest sealed crate, or null.</param>
public sealed record ShotState(
    string Code,
    ImmutableArray<FrameMapRow> Lanes,
    CheckReport? Report,
    DateTime? Checked,
    bool IsStale,
    string? Crate
);
