using System.Collections.Immutable;
using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Stacking;

namespace DuneCrate.Core.Crates;

/// <summary>Describes what a crate will hold, for its manifest and slip.</summary>
public static class CrateDescription
{
    /// <summary>The manifest of a crate.</summary>
    public static CrateManifest Manifest(
        CrateContents contents,
        string name,
        int version,
        DateTime time,
        IEnumerable<Finding> findings,
        Guid id,
        string digest
    )
    {
        ShotPlan shot = contents.Plan.Shot;
        ImmutableArray<CratePass> passes =
        [
            .. Stacked(contents.Sequences.SelectMany(s => s.Output.Passes.Select(p => Pass(s, p))), contents.Plan),
        ];
        return new CrateManifest
        {
            Schema = CrateManifest.SchemaName,
            Name = name,
            Version = version,
            Sealed = time,
            Id = id.ToString("N"),
            Contents = digest,
            Show = new ShowPlan
            {
                Code = contents.Plan.Show.Code,
                Name = contents.Plan.Show.Name,
                ColourSpace = contents.Plan.Show.ColourSpace,
            },
            Shot = shot.Code,
            Frames = shot.Frames,
            FrameRate = shot.FrameRate,
            Width = shot.Width,
            Height = shot.Height,
            Overscan = shot.Overscan,
            PixelAspectRatio = shot.PixelAspectRatio,
            Passes = passes,
            Notes = contents.Notes.IsEmpty ? null : contents.Notes,
            Waived = [.. findings.Where(f => f.Waived is not null)],
            Rebuild = [.. contents.Plan.Layers.Where(l => !l.Rebuild.IsEmpty).Select(l => new CrateRebuild(l.Name, l.Rebuild))],
        };
    }

    private static CratePass Pass(CrateSequence sequence, PassPlan pass)
    {
        PassDefinition? definition = sequence.Output.Plan.Catalogue.Find(pass.Pass);
        PassKind kind = definition?.Kind ?? PassKind.Look;
        OrderedDictionary<string, ChannelType> channels = Stored(sequence, pass, kind);
        return new CratePass
        {
            Pass = pass.Pass,
            TradeName = definition?.TradeName ?? pass.Pass,
            Layer = sequence.Output.Layer.Name,
            Files = sequence.Name.ToString(),
            Frames = sequence.Frames,
            Extent = sequence.Output.IsStill ? "still" : "sequence",
            Channels = channels,
            Alpha =
                CarriesAlpha(kind) && channels.Keys.Any(ChannelNames.IsAlpha)
                    ? AlphaOf(sequence.Facts) ?? sequence.Output.Layer.Alpha
                    : AlphaMode.None,
            ColourSpace = definition?.IsColour == true ? ColourSpace(sequence) : "raw",
            Kind = kind,
            Operation = definition?.Operation ?? "none",
            Opacity = definition?.Operation is "none" or null ? 0 : 1,
            Remark = definition?.ReceiverRemark is { Length: > 0 } remark ? remark : null,
        };
    }

    private static bool CarriesAlpha(PassKind kind) => kind is PassKind.Combined or PassKind.Light;

    /// <summary>
    /// The channels of a pass as the files call and store them. A file that holds one pass may bring an alpha that nobody planned.
    /// </summary>
    private static OrderedDictionary<string, ChannelType> Stored(CrateSequence sequence, PassPlan pass, PassKind kind)
    {
        if (sequence.Facts is not { } facts)
        {
            return pass.Channels;
        }

        var found = pass.Channels.Keys.Select(facts.FindChannel).OfType<ChannelFacts>();
        if (sequence.Output.Held is not null && CarriesAlpha(kind) && facts.FindChannel("A") is { } alpha)
        {
            found = found.Append(alpha);
        }

        return new(found.Select(c => KeyValuePair.Create(c.StoredAs ?? c.Name, c.Type)).DistinctBy(c => c.Key));
    }

    /// <summary>How colour and alpha go together where the format says; OpenEXR leaves it to convention and so to the plan.</summary>
    private static AlphaMode? AlphaOf(FileFacts? facts) =>
        facts?.Parts.Select(p => p.Alpha).FirstOrDefault(a => a is not null) switch
        {
            "premultiplied" => AlphaMode.Premultiplied,
            "straight" => AlphaMode.Straight,
            _ => null,
        };

    /// <summary>
    /// What the header names; else the show's, but colour of 8 and 16 bits lies along the sRGB curve of IEC 61966-2-1 (common practice).
    /// </summary>
    private static string ColourSpace(CrateSequence sequence) =>
        sequence.Facts?.Parts.Select(p => p.ColourSpace).FirstOrDefault(c => c is not null)
        ?? (
            sequence.Facts?.Channels.Any(c => c.Type is ChannelType.UInt8 or ChannelType.UInt16) == true
                ? "sRGB"
                : sequence.Output.Plan.Show.ColourSpace ?? "scene-linear"
        );

    /// <summary>Numbers the passes that are seen, from the bottom; the others follow by layer.</summary>
    private static IEnumerable<CratePass> Stacked(IEnumerable<CratePass> passes, Plan plan)
    {
        CratePass[] all = [.. passes];
        var order = new StackOrder(plan, all.Select(p => (p.Layer, p.Pass)));
        string[] layers = [.. plan.Layers.Select(l => l.Name)];
        return all.Where(p => order.IsLaidIn(p.Pass))
            .OrderBy(p => order.KeyOf(p.Layer, p.Pass))
            .Select((p, i) => p with { Place = i + 1 })
            .Concat(all.Where(p => !order.IsLaidIn(p.Pass)).OrderBy(p => Array.IndexOf(layers, p.Layer)));
    }
}
