using System.Collections.Immutable;
using System.Text.RegularExpressions;

namespace DuneCrate.Foundation.Naming;

/// <summary>Whether one name was meant to be another: a slip of the hand, or another version.</summary>
public static partial class NameSlip
{
    private const int MostEdits = 3;
    private const double MostEditsPerLetter = 0.2;

    /// <summary>How many times as many files the sequence must have that a single misnamed one belongs to.</summary>
    private const int TimesLarger = 4;

    /// <summary>Whether so few edits turn one name into the other that it must be meant.</summary>
    /// <param name="distance">Edits between the names.</param>
    /// <param name="wanted">The name that is meant.</param>
    public static bool IsSlip(int distance, string wanted) => distance <= MostEdits && distance <= MostEditsPerLetter * wanted.Length;

    /// <summary>Whether the names differ in their version alone.</summary>
    public static bool AreVersions(string one, string other) => Version().Replace(one, "#") == Version().Replace(other, "#");

    /// <summary>
    /// Sequences that are no sequences of their own: few files whose name is a slip of a much larger sequence's, and which stand at frames
    /// that this one lacks.
    /// </summary>
    /// <returns>Each, as the frame that it would be, with the sequence that it belongs to.</returns>
    public static ImmutableDictionary<FileSequence, FileSequence> Find(IReadOnlyCollection<FileSequence> sequences)
    {
        FileSequence[] large = [.. sequences.Where(s => s.Files.Length >= TimesLarger && !s.HasNoFrameNumber)];
        var found = ImmutableDictionary.CreateBuilder<FileSequence, FileSequence>();
        foreach (FileSequence small in sequences)
        {
            (FileSequence Home, FileSequence Meant, int Distance)[] near =
            [
                .. (small.HasNoFrameNumber ? AtEachNumber(small) : [small]).SelectMany(s => Near(s, large)).OrderBy(n => n.Distance),
            ];
            if (near.Length > 0)
            {
                found[near[0].Meant] = near[0].Home;
            }
        }

        return found.ToImmutable();
    }

    /// <summary>
    /// A single file as a frame of each number in its name, the last first: <c>sea_0004.png</c>, taken alone, is no sequence.
    /// </summary>
    public static IEnumerable<FileSequence> AtEachNumber(FileSequence still) =>
        SequenceFinder
            .NumbersIn(still.Files[0].Path)
            .AsEnumerable()
            .Reverse()
            .Select(n => new FileSequence(
                new FrameName(n.Prefix, n.Suffix, n.Digits),
                [new SequenceFile(still.Files[0].Path, n.Frame, n.Digits)]
            ));

    private static IEnumerable<(FileSequence Home, FileSequence Meant, int Distance)> Near(FileSequence small, FileSequence[] large)
    {
        string name = small.Name.Prefix + small.Name.Suffix;
        return large
            .Where(l => l.Files.Length >= TimesLarger * small.Files.Length && small.Frames.Intersect(l.Frames).IsEmpty)
            .Select(l => (Home: l, Meant: small, Distance: EditDistance.Between(l.Name.Prefix + l.Name.Suffix, name, MostEdits)))
            .Where(l => IsSlip(l.Distance, l.Home.Name.Prefix + l.Home.Name.Suffix));
    }

    [GeneratedRegex(@"(?<![A-Za-z0-9])[vV][0-9]+(?![A-Za-z0-9])|(?<=_)[vV][0-9]+")]
    private static partial Regex Version();
}
