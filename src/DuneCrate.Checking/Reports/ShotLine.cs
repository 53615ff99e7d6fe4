namespace DuneCrate.Checking.Reports;

/// <summary>Where a shot stands.</summary>
/// <param name="Shot">Its code.</param>
/// <param name="Checked">When it was checked last, UTC; null for never.</param>
/// <param name="Depth">How deep: header or pixels; null for never.</param>
/// <param name="Stale">Whether the plan was changed since.</param>
/// <param name="Planned">Files planned.</param>
/// <param name="Here">Those of them that are here.</param>
/// <param name="Missing">Those of them that the check did not find.</param>
/// <param name="Files">Files found.</param>
/// <param name="Bytes">Their bytes.</param>
/// <param name="Blockers">Findings that keep a crate from being sealed.</param>
/// <param name="Warnings">Findings that a person must look at.</param>
/// <param name="Notes">Notes.</param>
/// <param name="Waived">Findings that were accepted.</param>
/// <param name="Rerun">Frames to render again, over all layers.</param>
/// <param name="Crate">The newest sealed crate, or null.</param>
public sealed record ShotLine(
    string Shot,
    DateTime? Checked,
    string? Depth,
    bool Stale,
    long Planned,
    long Here,
    long Missing,
    int Files,
    long Bytes,
    int Blockers,
    int Warnings,
    int Notes,
    int Waived,
    long Rerun,
    string? Crate
);
