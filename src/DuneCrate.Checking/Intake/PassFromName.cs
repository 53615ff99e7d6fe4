using System.Collections.Immutable;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// Which pass the files of a sequence hold whose channels do not say it: <c>haze_ao.####.png</c> is the occlusion of haze. The last words
/// of the name count, or else the folder (common practice of programs that write a file per pass).
/// </summary>
public static class PassFromName
{
    private const int MostWords = 4;

    /// <summary>A name cut in two.</summary>
    /// <param name="Key">Key of the pass that its last words name.</param>
    /// <param name="Owner">What stands before them, with its folder: names of one layer's passes share it.</param>
    /// <param name="Stem">What stands before them in the file's name, or, when nothing does, the folder's name.</param>
    public readonly record struct Split(string Key, string Owner, string Stem);

    /// <summary>
    /// The passes by name of the sequence, of those whose files have plain channels (<c>R G B A</c>, <c>Y</c>, <c>Z</c>) and name a pass.
    /// A word such as "bg" may be a layer as well: for passes of light it counts only where another sequence has the same beginning.
    /// </summary>
    /// <param name="sequences">Names of sequences with the channels of a file of each.</param>
    /// <param name="catalogue">The passes that are known.</param>
    public static ImmutableDictionary<FrameName, HeldPass> Guess(
        IReadOnlyCollection<(FrameName Name, ImmutableArray<string> Channels)> sequences,
        PassCatalogue catalogue
    )
    {
        var split = sequences.ToDictionary(s => s.Name, s => SplitName(s.Name, catalogue));
        var owners = sequences
            .Select(s => split[s.Name]?.Owner ?? OwnName(s.Name))
            .GroupBy(o => o)
            .Where(g => g.Count() > 1)
            .Select(g => g.Key)
            .ToHashSet();
        return sequences
            .Where(s => s.Channels.Length is > 0 and <= 4 && s.Channels.All(c => !c.Contains('.', StringComparison.Ordinal)))
            .Select(s => (s.Name, Held: split[s.Name] is { } name ? Held(name, s.Channels, owners.Contains(name.Owner), catalogue) : null))
            .Where(s => s.Held is not null)
            .ToImmutableDictionary(s => s.Name, s => s.Held!);
    }

    /// <summary>The same of a folder, by the first file of each sequence that opens.</summary>
    public static ImmutableDictionary<FrameName, HeldPass> Guess(IntakeResult intake, PassCatalogue catalogue) =>
        Guess(
            [
                .. intake
                    .Sequences.Select(s =>
                        (
                            s.Name,
                            First: s.Files.Select(f => intake.Facts.GetValueOrDefault(f.Path)).FirstOrDefault(f => f?.Readable == true)
                        )
                    )
                    .Where(s => s.First is not null)
                    .Select(s => (s.Name, s.First!.Channels.Select(c => c.Name).ToImmutableArray())),
            ],
            catalogue
        );

    /// <summary>The pass that a name ends with, or null.</summary>
    public static Split? SplitName(FrameName name, PassCatalogue catalogue)
    {
        string own = OwnName(name),
            folder = own[..(own.LastIndexOf('/') + 1)],
            file = own[folder.Length..],
            parent = folder.TrimEnd('/');
        string[] words = file.Split('_', '-', '.', ' ');
        for (int count = Math.Min(MostWords, words.Length - (folder.Length > 0 ? 0 : 1)); count > 0; count--)
        {
            if (catalogue.KeyOf(string.Join('_', words[^count..])) is { } key)
            {
                string stem = file[..^words[^count..].Sum(w => w.Length + 1).AtMost(file.Length)];
                return new Split(key, folder + stem, stem.Length > 0 ? stem : parent[(parent.LastIndexOf('/') + 1)..]);
            }
        }

        // A folder per pass: the folder above it stands for the layer.
        int above = parent.LastIndexOf('/');
        return above > 0 && catalogue.KeyOf(parent[(above + 1)..]) is { } pass
            ? new Split(pass, parent[..(above + 1)], parent[..above][(parent[..above].LastIndexOf('/') + 1)..])
            : null;
    }

    private static HeldPass? Held(Split name, ImmutableArray<string> channels, bool hasSiblings, PassCatalogue catalogue)
    {
        PassDefinition pass = catalogue.Find(name.Key)!;
        bool isLight = pass.Kind is PassKind.Combined or PassKind.Light or PassKind.Factor;
        if (isLight && !hasSiblings)
        {
            return null;
        }

        string[] values = [.. channels.Where(c => isLight || !ChannelNames.IsAlpha(c) || pass.Channels.Contains("A"))];
        return HeldPass.Create(name.Key, pass, pass.Channels.Length == 1 ? values.Take(1) : values);
    }

    /// <summary>The name without number, extension and version.</summary>
    private static string OwnName(FrameName name)
    {
        string text = name.Prefix;
        if (name.Padding == 0)
        {
            text = Path.ChangeExtension(text, null) ?? "";
        }

        text = text.TrimEnd('.', '_', '-', ' ');
        int cut = text.LastIndexOfAny(['.', '_', '-']);
        bool isVersion =
            cut > 0 && text.Length > cut + 2 && text[cut + 1] is 'v' or 'V' && text.AsSpan(cut + 2).IndexOfAnyExceptInRange('0', '9') < 0;
        return isVersion ? text[..cut] : text;
    }

    private static int AtMost(this int value, int most) => Math.Min(value, most);
}
