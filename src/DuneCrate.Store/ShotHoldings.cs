namespace DuneCrate.Store;

/// <summary>What is known of one or more shots beside their files.</summary>
/// <param name="Shots">Shots.</param>
/// <param name="Revisions">Versions of their plans.</param>
/// <param name="Checks">Checks with their reports.</param>
/// <param name="Waivers">Waivers.</param>
/// <param name="Notes">Findings that were handed to somebody.</param>
/// <param name="PictureNotes">Notes on pictures.</param>
/// <param name="Stacks">Test composites.</param>
/// <param name="Ticks">Confirmed lines of preflight lists.</param>
/// <param name="Crates">Folders of sealed crates.</param>
public sealed record ShotHoldings(
    int Shots,
    int Revisions,
    int Checks,
    int Waivers,
    int Notes,
    int PictureNotes,
    int Stacks,
    int Ticks,
    IReadOnlyList<string> Crates
);
