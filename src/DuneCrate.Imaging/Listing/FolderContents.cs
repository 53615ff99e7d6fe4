using System.Collections.Immutable;

namespace DuneCrate.Imaging.Listing;

/// <summary>What lies below a folder.</summary>
/// <param name="Files">Every file with a picture's name, by path.</param>
/// <param name="Clutter">Paths of temporary and system files, as many as are worth telling, in order.</param>
/// <param name="Closed">Paths of folders that may not be read, in order: what they hold is not known.</param>
public sealed record FolderContents(ImmutableArray<IntakeFile> Files, ImmutableArray<string> Clutter, ImmutableArray<string> Closed);
