namespace DuneCrate.Checking.Reports;

/// <summary>A whole show in numbers; see <see cref="ShotLine"/>.</summary>
public sealed record ShowTotals(
    int Shots,
    int Checked,
    long Planned,
    long Here,
    long Missing,
    long Files,
    long Bytes,
    int Blockers,
    int Warnings,
    int Notes,
    int Waived,
    long Rerun
);
