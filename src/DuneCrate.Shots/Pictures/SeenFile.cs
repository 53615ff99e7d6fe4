using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Shots.Pictures;

/// <summary>What somebody looks at: channels of a file as it is at this moment.</summary>
/// <param name="Path">The file.</param>
/// <param name="Stamp">What the file system says of it.</param>
/// <param name="Pass">Key of the pass; empty for channels that belong to none.</param>
/// <param name="Definition">Its entry in the catalogue, or null.</param>
/// <param name="Channels">The channels, in the order that they are shown in.</param>
/// <param name="Part">The part that has them, or null for whichever does.</param>
/// <param name="Held">The pass of a file that holds one, or null.</param>
/// <param name="Near">The value that is planned to be shown black, or null.</param>
/// <param name="Far">The value that is planned to be shown white, or null.</param>
/// <param name="IsStraight">Whether its colour is planned not to be multiplied by its alpha.</param>
public sealed record SeenFile(
    StoragePath Path,
    FileStamp Stamp,
    string Pass,
    PassDefinition? Definition,
    ImmutableArray<string> Channels,
    int? Part,
    HeldPass? Held,
    double? Near,
    double? Far,
    bool IsStraight
)
{
    /// <summary>The proxy that is looked at instead of the file, as it was earlier; null for the file as it is.</summary>
    public string? Kept { get; init; }

    /// <summary>Whether a shrunk sample is the mean of its pixels; of data and ids means are values that are nowhere.</summary>
    public bool IsMean => Definition?.Kind is not (PassKind.Data or PassKind.Identity);

    /// <summary>A text that differs whenever the pixels could.</summary>
    public string Key => $"{string.Join(',', Channels)}|{Part}|{Held?.Signature}|{IsMean}";

    /// <summary>The part of the file that has the channels, or null.</summary>
    public PartFacts? PartOf(FileFacts header)
    {
        string[] stored = [.. Held?.Match([.. header.Channels.Select(c => c.Name)]).Select(m => m.Stored) ?? Channels];
        return header.Parts.FirstOrDefault(p =>
            (Part is null || p.Index == Part) && p.Channels.Any(c => stored.Contains(c.Name) || Channels.Contains(c.Name))
        );
    }

    /// <summary>The same where it must be there.</summary>
    /// <exception cref="ImageException">It is not; the message says why.</exception>
    public PartFacts PartIn(FileFacts header) =>
        PartOf(header) ?? throw new ImageException("", 0, header.Problem ?? $"it has none of {string.Join(", ", Channels)}");
}
