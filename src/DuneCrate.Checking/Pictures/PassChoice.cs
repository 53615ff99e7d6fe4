using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Exr;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Checking.Pictures;

/// <summary>What is to be seen of a file that no plan speaks of: a pass or channels, and in which part.</summary>
/// <param name="Pass">Key of the pass, which says how it is shown; null for channels that belong to none.</param>
/// <param name="Channels">Names in the file, in the order that they are shown in.</param>
/// <param name="Part">The part that has them, or null for whichever does.</param>
public sealed record PassChoice(string? Pass, ImmutableArray<string> Channels, int? Part)
{
    private static readonly string[] Order = ["R", "G", "B", "A", "X", "Y", "Z", "U", "V", "W"];

    /// <summary>The passes of a file by its channels' names, and by its own name where it holds one pass with plain channels.</summary>
    public static ImmutableArray<PassChoice> Of(FileFacts facts, PassCatalogue catalogue)
    {
        FrameName name = SequenceFinder.Find([facts.Path])[0].Name;
        HeldPass? held = PassFromName.Guess([(name, [.. facts.Channels.Select(c => c.Name)])], catalogue).GetValueOrDefault(name);
        return
        [
            .. facts
                .Parts.SelectMany(p => p.Channels.Select(c => (p.Index, c.Name, Pass: held?.Pass ?? c.Pass ?? LayerOf(c.Name))))
                .GroupBy(c => (c.Pass, Part: facts.Parts.Length > 1 ? c.Index : (int?)null))
                .Select(g => new PassChoice(g.Key.Pass, Sorted(g.Select(c => c.Name), catalogue.Find(g.Key.Pass ?? "")), g.Key.Part)),
        ];
    }

    /// <summary>The choice that somebody asks for by words.</summary>
    /// <param name="facts">The file's header.</param>
    /// <param name="catalogue">The passes that are known.</param>
    /// <param name="pass">A pass by key or alias, or null.</param>
    /// <param name="channels">Channels by name, instead of a pass; or empty.</param>
    /// <param name="part">A part's index, or null.</param>
    /// <exception cref="FormatException">The file has no such pass, channel or part; the message says what it has.</exception>
    public static PassChoice Find(FileFacts facts, PassCatalogue catalogue, string? pass, IReadOnlyList<string> channels, int? part)
    {
        if (part is { } number && facts.Parts.All(p => p.Index != number))
        {
            throw new FormatException($"{facts.Path} has no part {number}; its parts are 0 to {facts.Parts.Length - 1}.");
        }

        if (channels.Count > 0)
        {
            string[] there = [.. facts.Parts.Where(p => part is null || p.Index == part).SelectMany(p => p.Channels).Select(c => c.Name)];
            return channels.FirstOrDefault(c => !there.Contains(c)) is { } missing
                ? throw new FormatException(
                    $"{facts.Path} has no channel {missing}; it has {string.Join(", ", there.Distinct().Take(40))}."
                )
                : new PassChoice(catalogue.PassOfChannel(channels[0]), [.. channels], part);
        }

        ImmutableArray<PassChoice> all = [.. Of(facts, catalogue).Where(c => part is null || c.Part is null || c.Part == part)];
        string? key = pass is null ? null : catalogue.KeyOf(pass) ?? pass;
        return all.IsEmpty ? throw new FormatException($"{facts.Path} has no channels{(part is null ? "" : $" in part {part}")}.")
            : key is null ? all.FirstOrDefault(c => c.Pass == PassKeys.Beauty) ?? all[0]
            : all.FirstOrDefault(c => c.Pass == key)
                ?? throw new FormatException(
                    $"{facts.Path} has no pass {pass}; it has {string.Join(", ", all.Select(c => c.Pass ?? string.Join(' ', c.Channels)))}."
                );
    }

    /// <summary>Reads the pixels of every channel.</summary>
    /// <param name="file">The file.</param>
    /// <param name="catalogue">The passes that are known.</param>
    /// <param name="limits">Bounds on what it may claim.</param>
    /// <param name="cancel">Stops.</param>
    /// <exception cref="ImageException">The file cannot be read.</exception>
    public PassPixels Read(IntakeFile file, PassCatalogue catalogue, ReadLimits limits, CancellationToken cancel)
    {
        using PictureLines lines = PictureLines.Open(file.Place, file.Format, Channels, limits, part: Part);
        using IDisposable held = limits.Memory.Take(
            lines.ReadingBytes + PicturePlanes.BytesOf(lines.Window, 1, lines.Channels.Length),
            cancel
        );
        return PassPixels.From(PicturePlanes.Read(lines, 1, true, null, cancel), Pass ?? "", catalogue.Find(Pass ?? ""), Channels);
    }

    private static string? LayerOf(string channel) => channel.LastIndexOf('.') is > 0 and int dot ? channel[..dot] : null;

    /// <summary>In the catalogue's order where it names them, else red, green, blue, alpha and the axes.</summary>
    private static ImmutableArray<string> Sorted(IEnumerable<string> names, PassDefinition? definition)
    {
        int Place(string name)
        {
            string last = ChannelNames.LastOf(name).ToUpperInvariant();
            int at = definition?.Channels.IndexOf(last) ?? -1;
            at = at >= 0 ? at : Array.IndexOf(Order, last);
            return at >= 0 ? at : int.MaxValue;
        }

        return [.. names.OrderBy(Place).ThenBy(n => n, StringComparer.Ordinal)];
    }
}
