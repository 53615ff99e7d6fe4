namespace DuneCrate.Store;

/// <summary>What tells whether the pictures of a shot would be asked for otherwise than before.</summary>
/// <param name="Id">The shot.</param>
/// <param name="Revision">Revision of its plan.</param>
/// <param name="Settings">What its show settles.</param>
/// <param name="Root">The root of its files.</param>
/// <param name="Folder">Their folder.</param>
/// <param name="NewestCheck">Key of its newest check.</param>
/// <param name="Checks">Finished checks.</param>
/// <param name="Crates">Sealed crates.</param>
public sealed record ShotStamp(
    int Id,
    int Revision,
    string? Settings,
    string? Root,
    string Folder,
    int NewestCheck,
    int Checks,
    int Crates
);
