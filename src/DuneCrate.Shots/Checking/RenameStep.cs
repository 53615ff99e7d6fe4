using System.Collections.Immutable;
using DuneCrate.Checking.Remedies;

namespace DuneCrate.Shots.Checking;

/// <summary>Files that were renamed at once.</summary>
/// <param name="Folder">The folder, as a full path.</param>
/// <param name="Renames">From what to what.</param>
/// <param name="At">When, UTC.</param>
/// <param name="IsOpen">Whether it was begun and its end not noted: some files have their new names, others not.</param>
public sealed record RenameStep(string Folder, ImmutableArray<Rename> Renames, DateTime At, bool IsOpen = false);
