using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// A plan made from what lies in a folder: every sequence with channels becomes an output, in the layer that its first folder names; passes
/// by the catalogue and its aliases; range, size, rate, camera and compression from the headers, where most files agree.
/// </summary>
public static class PlanGuess
{
    /// <summary>The plan, or null when no file of the folder could be read.</summary>
    /// <param name="intake">The folder at header depth or deeper.</param>
    /// <param name="show">The show.</param>
    /// <param name="shot">Code of the shot.</param>
    public static Plan? From(IntakeResult intake, ShowPlan show, string shot)
    {
        ImmutableDictionary<FileSequence, FileSequence> slips = NameSlip.Find(intake.Sequences);
        var strays = slips.Keys.SelectMany(s => s.Files).Select(f => f.Path).ToHashSet();
        ImmutableDictionary<FrameName, HeldPass> held = PassFromName.Guess(intake, show.Catalogue);
        (FileSequence Sequence, FileFacts First)[] found =
        [
            .. intake
                .Sequences.Where(s => !strays.Contains(s.Files[0].Path))
                .Select(s => With(s, slips))
                .Select(s =>
                    (s, First: s.Files.Select(f => intake.Facts[f.Path]).FirstOrDefault(f => f is { Readable: true, Parts.IsEmpty: false }))
                )
                .Where(s =>
                    s.First is not null
                    && !s.s.Name.ToString().AsSpan().ContainsAny('{', '}')
                    && PlanValidation.TemplateProblem(TemplateOf(s.s)) is null
                )
                .Select(s => (s.s, s.First!)),
        ];
        if (found.Length == 0)
        {
            return null;
        }

        PartFacts[] parts = [.. found.Select(f => f.First.Parts[0])];
        var (width, height) = Most(parts.Select(p => (p.DisplayWindow.Width, p.DisplayWindow.Height)));
        FrameSet frames = FrameSet.UnionOf(
            found.Where(f => !f.Sequence.HasNoFrameNumber).Select(f => f.Sequence.Frames).DefaultIfEmpty(FrameSet.Single(1))
        );
        return new Plan
        {
            Show = show,
            Shot = new ShotPlan
            {
                Code = shot,
                Frames = (long)frames.Last - frames.First < PlanLimits.MaxFrames ? FrameSet.Range(frames.First, frames.Last) : frames,
                FrameRate = parts.Any(p => p.FrameRate is not null)
                    ? Most(parts.Where(p => p.FrameRate is not null).Select(p => p.FrameRate!.Value))
                    : new FrameRate(24, 1),
                Width = (int)width,
                Height = (int)height,
                Overscan = Most(parts.Select(p => p.Overscan ?? 0)),
                PixelAspectRatio = Most(parts.Select(p => Math.Round(p.PixelAspectRatio, 4))),
                Camera = parts.Select(p => p.Camera).OfType<string>().GroupBy(c => c).MaxBy(g => g.Count())?.Key ?? "",
            },
            Layers =
            [
                .. found
                    .GroupBy(f => LayerOf(f.Sequence.Name, shot, found, held, show.Catalogue))
                    .Select(g => Layer(g.Key, [.. g], held, show.Catalogue, frames)),
            ],
        };
    }

    /// <summary>A sequence with the frames of those that are misnamed and belong to it.</summary>
    private static FileSequence With(FileSequence sequence, ImmutableDictionary<FileSequence, FileSequence> slips)
    {
        SequenceFile[] more = [.. slips.Where(s => s.Value == sequence).SelectMany(s => s.Key.Files)];
        return more.Length == 0 ? sequence : new FileSequence(sequence.Name, [.. sequence.Files.Concat(more).OrderBy(f => f.Frame)]);
    }

    private static LayerPlan Layer(
        string name,
        (FileSequence Sequence, FileFacts First)[] files,
        ImmutableDictionary<FrameName, HeldPass> held,
        PassCatalogue catalogue,
        FrameSet shot
    )
    {
        ImmutableArray<OutputPlan> outputs =
        [
            .. files.Select(f => OutputOf(f.Sequence, f.First, catalogue, shot, held.GetValueOrDefault(f.Sequence.Name))),
        ];
        var passes = outputs.SelectMany(o => o.Passes).ToArray();
        bool hasAlpha = passes.Any(p => p.Pass == PassKeys.Beauty && p.Channels.ContainsKey("A"));
        ImmutableArray<RebuildTerm> terms = RebuildSum.Propose(catalogue, passes.Select(p => p.Pass));
        return new LayerPlan
        {
            Name = name,
            Alpha = hasAlpha ? AlphaMode.Premultiplied : AlphaMode.None,
            Rebuild = terms,
            Outputs = outputs,
        };
    }

    /// <summary>The output that a sequence would be, its passes by the channels of a file of it.</summary>
    internal static OutputPlan OutputOf(
        FileSequence sequence,
        FileFacts first,
        PassCatalogue catalogue,
        FrameSet shot,
        HeldPass? held = null
    )
    {
        var passes = first
            .Channels.Where(c => held is null || held.Channels.Contains(c.Name))
            .GroupBy(c => held?.Pass ?? PassOf(c.Name, catalogue))
            .Select(p => new PassPlan
            {
                Pass = p.Key,
                Channels = new OrderedDictionary<string, ChannelType>(
                    p.DistinctBy(c => c.Name).OrderBy(c => PlaceOf(c.Name)).Select(c => KeyValuePair.Create(c.Name, c.Type))
                ),
            });
        return new OutputPlan
        {
            Template = TemplateOf(sequence),
            Padding = Math.Clamp(sequence.Name.Padding, 1, PlanLimits.MaxPadding),
            Compression = first.Format == "exr" ? first.Parts[0].Compression : null,
            Frames =
                sequence.HasNoFrameNumber ? FrameSet.Single(shot.First)
                : sequence.Frames.Equals(shot) ? null
                : Filled(sequence),
            Passes = [.. passes],
        };
    }

    /// <summary>Files list channels by the alphabet; people know them as red, green and blue.</summary>
    private static int PlaceOf(string channel) =>
        "RGBAXYZUV".IndexOf(ChannelNames.LastOf(channel), StringComparison.Ordinal) is >= 0 and int place ? place : int.MaxValue;

    private static string TemplateOf(FileSequence sequence) =>
        sequence.HasNoFrameNumber ? sequence.Name.Prefix : $"{sequence.Name.Prefix}{{frame}}{sequence.Name.Suffix}";

    /// <summary>
    /// First to last at the sequence's own step: what is missing was planned, too. Not so with a stray number far away from all others.
    /// </summary>
    private static FrameSet Filled(FileSequence sequence) =>
        sequence.Frames.Union(sequence.Gaps()) is { LongCount: <= PlanLimits.MaxFrames } filled ? filled : sequence.Frames;

    /// <summary>The first folder, or when all share it the file's stem.</summary>
    private static string LayerOf(
        FrameName name,
        string shot,
        (FileSequence Sequence, FileFacts First)[] all,
        ImmutableDictionary<FrameName, HeldPass> held,
        PassCatalogue catalogue
    )
    {
        string Folder(FrameName n) => n.Prefix.IndexOf('/') is > 0 and int slash ? n.Prefix[..slash] : "";
        string folder = Folder(name);
        if (held.GetValueOrDefault(name) is { } one && catalogue.KeyOf(folder) == one.Pass)
        {
            folder = ""; // A folder per pass says nothing of the layer.
        }

        bool isShared = all.Length > 1 && all.All(f => Folder(f.Sequence.Name) == folder);
        string stem =
            held.ContainsKey(name) && PassFromName.SplitName(name, catalogue) is { } split
                ? split.Stem.Trim('_', '-', '.')
                : name.Prefix[(name.Prefix.LastIndexOf('/') + 1)..].TrimEnd('.', '_', '-');
        stem =
            stem.Length > shot.Length + 1 && stem.StartsWith(shot + "_", StringComparison.OrdinalIgnoreCase)
                ? stem[(shot.Length + 1)..]
                : stem;
        string text =
            folder.Length > 0 && !isShared ? folder
            : stem.Length > 0 ? stem
            : folder.Length > 0 ? folder
            : "frames";
        return Clean(text);
    }

    /// <summary>The pass that a channel belongs to: by the catalogue, else what stands before the last dot of its name.</summary>
    internal static string PassOf(string channel, PassCatalogue catalogue) =>
        catalogue.PassOfChannel(channel)
        ?? string.Join('.', (channel.LastIndexOf('.') is > 0 and int dot ? channel[..dot] : channel).Split('.').Select(Clean));

    /// <summary>A text as a name that goes into file names: what a plan may call a shot or a layer.</summary>
    public static string Clean(string text) =>
        text.Length == 0
            ? "_"
            : string.Concat(text.Take(TextLimits.NameLength).Select(c => char.IsAsciiLetterOrDigit(c) || c is '_' or '-' ? c : '_'));

    private static T Most<T>(IEnumerable<T> values) => values.GroupBy(v => v).MaxBy(g => g.Count())!.Key;
}
