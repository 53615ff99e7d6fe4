using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Crates.Converting;
using DuneCrate.Crates.Describing;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Suggestions;

namespace DuneCrate.Crates;

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
        string digest,
        IReadOnlyDictionary<FrameName, HalfLoss>? losses = null,
        ReadLimits? limits = null
    )
    {
        ShotPlan shot = contents.Plan.Shot;
        ImmutableArray<CratePass> passes =
        [
            .. Stacked(
                contents.Sequences.SelectMany(s =>
                    s.Passes.Select(p =>
                        Pass(s, p, losses?.GetValueOrDefault(s.Name) ?? default) with
                        {
                            Measured = PassMeasured.Told(p, contents, limits ?? ReadLimits.Default),
                        }
                    )
                ),
                contents.Plan
            ),
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
            Frames = (contents.Recipe.Frames is { } wanted ? shot.Frames.Intersect(wanted) : shot.Frames).Shifted(contents.Shift),
            FrameShift = contents.Shift,
            Receiver = contents.Recipe.Receiver,
            Recipe = contents.Recipe == CrateRecipe.AsItIs ? null : contents.Recipe,
            FrameRate = shot.FrameRate,
            Width = shot.Width,
            Height = shot.Height,
            Overscan = shot.Overscan,
            PixelAspectRatio = shot.PixelAspectRatio,
            Passes = passes,
            Helpers = contents.Helpers.Helpers.IsEmpty
                ? null
                : [.. contents.Helpers.Helpers.Select(h => new CrateHelper(h.Name, h.Kind, h.Moves))],
            Notes = contents.Notes.IsEmpty ? null : [.. contents.Notes.Select(n => n with { Frame = n.Frame + contents.Shift })],
            Waived = [.. findings.Where(f => f.Waived is not null)],
            Rebuild = [.. contents.Plan.Layers.Where(l => !l.Rebuild.IsEmpty).Select(l => new CrateRebuild(l.Name, l.Rebuild))],
        };
    }

    private static CratePass Pass(CrateSequence sequence, PackedPass pass, HalfLoss loss)
    {
        PassDefinition? definition = pass.Definition;
        PassKind kind = definition?.Kind ?? PassKind.Look;
        OrderedDictionary<string, ChannelType> channels = pass.Facts is null
            ? pass.Plan.Channels
            : new(pass.Channels.Select(c => KeyValuePair.Create(c.Name, c.Type)).DistinctBy(c => c.Key));
        bool isHalved = loss != default && pass.Channels.Any(c => c.Type == ChannelType.Half);
        return new CratePass
        {
            Pass = pass.Plan.Pass,
            TradeName = definition?.TradeName ?? pass.Plan.Pass,
            Layer = sequence.Layer.Name,
            Files = sequence.Name.ToString(),
            Part = pass.Part,
            Frames = sequence.Frames,
            Extent = sequence.IsStill ? "still" : "sequence",
            Channels = channels,
            Alpha =
                CarriesAlpha(kind) && channels.Keys.Any(ChannelNames.IsAlpha)
                    ? pass.Alpha ?? AlphaOf(pass.Facts) ?? sequence.Layer.Alpha
                    : AlphaMode.None,
            ColourSpace = definition?.IsColour == true ? ColourSpace(pass) : "raw",
            Kind = kind,
            Operation = definition?.Operation ?? "none",
            Opacity = definition?.Operation is "none" or null ? 0 : 1,
            Unit = definition?.Unit is { Length: > 0 } unit ? unit : null,
            Remark = definition?.ReceiverRemark is { Length: > 0 } remark ? remark : null,
            Was = sequence.IsConverted || sequence.Shift != 0 ? pass.Output.Key : null,
            Done = pass.Operations.IsEmpty ? null : pass.Operations,
            Loss = isHalved ? loss : null,
        };
    }

    private static bool CarriesAlpha(PassKind kind) => kind is PassKind.Combined or PassKind.Light;

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
    private static string ColourSpace(PackedPass pass) =>
        pass.Facts?.Parts.Select(p => p.ColourSpace).FirstOrDefault(c => c is not null)
        ?? (
            pass.Facts?.Channels.Any(c => c.Type is ChannelType.UInt8 or ChannelType.UInt16) == true
                ? "sRGB"
                : pass.Output.Plan.Show.ColourSpace ?? "scene-linear"
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
