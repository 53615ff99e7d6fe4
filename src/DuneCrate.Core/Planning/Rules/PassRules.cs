using DuneCrate.Core.Checks;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Sheet;

namespace DuneCrate.Core.Planning.Rules;

/// <summary>A pass planned shallower than its least type; a note when it is wastefully deep (float colour).</summary>
public sealed class PlanDepth : PlanRule
{
    public override string Id => "plan.depth";

    public override string Title => "Type does not fit the pass";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A type below the pass's least type; wastefully deep";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from layer in context.Layers
        from pass in layer.Passes
        let definition = context.Plan.Catalogue.Find(pass.Pass)
        where definition is not null
        from type in pass.Channels.Values.Distinct()
        let loses = type.LosesAgainst(definition.LeastType)
        let wastes = !loses && type == ChannelType.Float && definition.IsColour
        where loses || wastes
        let right = loses ? (definition.LeastType == ChannelType.UInt8 ? ChannelType.Half : definition.LeastType) : ChannelType.Half
        select Found(
            layer.Name,
            pass.Pass,
            "type",
            loses
                ? $"{pass.Pass} of {layer.Name} is planned as {type.Name()}; it needs {definition.LeastType.Name()}."
                : $"{pass.Pass} of {layer.Name} is planned as float: twice the size and reading time of half, and no use for colour.",
            $"Plan it as {right.Name()}.",
            new WriteCells([
                new CellText(layer.Name, pass.Pass, (PassSheet.Read(context.Plan, layer, pass.Pass) with { Type = right }).ToString()),
            ])
        ) with
        {
            Severity = loses ? Severity.Warning : Severity.Note,
        };
}

/// <summary>Lossy compression on data or identity passes: their values are not colours and must stay exact.</summary>
public sealed class PlanLossy : PlanRule
{
    public override string Id => "plan.lossy";

    public override string Title => "Lossy compression on exact values";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Lossy compression on data or identity passes";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from layer in context.Layers
        from output in layer.Outputs
        where ExrCompression.Find(output.Compression)?.IsLossy == true
        let exact = output
            .Passes.Where(p => !p.Off && context.Plan.Catalogue.Find(p.Pass)?.Kind is PassKind.Data or PassKind.Identity)
            .Select(p => p.Pass)
            .ToArray()
        where exact.Length > 0
        select Found(
            layer.Name,
            exact[0],
            "compression",
            $"{output.Compression} changes values, and {Names(exact)} of {layer.Name} must stay exact.",
            "Pack them with zip, or split data off into a file of its own.",
            new SetOutputs([layer.Name], PassSheet.HomeOf(layer, output)) { Compression = "zip" }
        );
}

/// <summary>A layer that something stands behind, without alpha: it cannot be laid over anything.</summary>
public sealed class PlanAlpha : PlanRule
{
    public override string Id => "plan.alpha";

    public override string Title => "Cut-out without alpha";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A cut-out layer without alpha";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        LayerPlan[] layers = [.. context.Layers.Where(l => l.FindPass("beauty") is { Off: false })];
        foreach (LayerPlan layer in layers.SkipLast(1))
        {
            if (!layer.FindPass("beauty")!.Channels.Keys.Any(PassSheet.IsAlpha))
            {
                yield return Found(
                    layer.Name,
                    "beauty",
                    "alpha",
                    $"{layer.Name} stands in front of {layers[^1].Name} and has no alpha: it cannot be laid over it.",
                    "Give it premultiplied alpha.",
                    layer.Alpha == AlphaMode.None
                        ? new SetLayer(layer.Name) { Alpha = AlphaMode.Premultiplied }
                        : new WriteCells([
                            new CellText(
                                layer.Name,
                                "beauty",
                                (PassSheet.Read(context.Plan, layer, "beauty") with { Alpha = true }).ToString()
                            ),
                        ])
                );
            }
        }
    }
}

/// <summary>A data or identity pass planned filtered: a filtered distance is where nothing is, a filtered id belongs to nothing.</summary>
public sealed class PlanFilter : PlanRule
{
    public override string Id => "plan.filter";

    public override string Title => "Filtered data";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A filtered data or identity pass";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        foreach (LayerPlan layer in context.Layers)
        {
            foreach (
                PassPlan pass in layer.Passes.Where(p => context.Plan.Catalogue.Find(p.Pass)?.Kind is PassKind.Data or PassKind.Identity)
            )
            {
                bool byCell = pass.Filtered == true;
                string? filter = RenderSettings.Value(context.Plan, layer, "filter_data");
                if (byCell)
                {
                    yield return Found(
                        layer.Name,
                        pass.Pass,
                        "filter",
                        $"{pass.Pass} of {layer.Name} is planned filtered: at edges it will hold values that belong to nothing.",
                        "Leave the filter out.",
                        new WriteCells([
                            new CellText(
                                layer.Name,
                                pass.Pass,
                                (PassSheet.Read(context.Plan, layer, pass.Pass) with { Filtered = null }).ToString()
                            ),
                        ])
                    );
                }
                else if (filter is not null && filter is not ("none" or "closest" or "box 1"))
                {
                    yield return Found(
                        layer.Name,
                        pass.Pass,
                        "filter",
                        $"{layer.Name} renders data through the pixel filter {filter}: {pass.Pass} will hold values at edges that belong to nothing.",
                        "Set the pixel filter of data to none.",
                        new SetSettings([layer.Name], "filter_data", "none")
                    );
                    break;
                }
            }
        }
    }
}

/// <summary>
/// Light passes that do not make up the beauty: a term of the family that they fit is not planned, a term is off, or two families are mixed,
/// which counts light twice.
/// </summary>
public sealed class PlanRebuild : PlanRule
{
    public override string Id => "plan.rebuild";

    public override string Title => "Light passes do not make a whole";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Terms of the sum missing, or families mixed";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        foreach (LayerPlan layer in context.Layers)
        {
            string[] planned = [.. layer.AllPasses.Select(p => p.Pass)];
            if (RebuildFamily.MixedIn(layer.Rebuild) is { } mixed)
            {
                var proposal = RebuildProposal.Of(context.Plan.Catalogue, planned);
                yield return Found(
                    layer.Name,
                    layer.Rebuild[0].Factors[0],
                    "rebuild",
                    $"The sum of {layer.Name} counts light twice: {mixed.One} and {mixed.Other} hold the same share of it.",
                    $"Sum {string.Join(" + ", proposal)}.",
                    new SetLayer(layer.Name) { Rebuild = string.Join(" + ", proposal) }
                );
                continue;
            }

            if (layer.Rebuild.SelectMany(t => t.Factors).Where(f => layer.FindPass(f)?.Off == true).ToArray() is { Length: > 0 } off)
            {
                yield return Found(
                    layer.Name,
                    off[0],
                    "rebuild",
                    $"{Names(off)} of {layer.Name} {(off.Length == 1 ? "is" : "are")} switched off, so the beauty cannot be proved.",
                    "Switch it on, or leave the sum unproved for this render.",
                    new WriteCells([
                        .. off.Select(p => new CellText(
                            layer.Name,
                            p,
                            (PassSheet.Read(context.Plan, layer, p) with { IsOff = false }).ToString()
                        )),
                    ])
                );
                continue;
            }

            string[] missing = RebuildFamily.MissingIn(context.Plan, layer);
            if (missing.Length > 0)
            {
                yield return Found(
                    layer.Name,
                    missing[0],
                    "rebuild",
                    $"The light passes of {layer.Name} do not make a whole: {Names(missing)} {(missing.Length == 1 ? "is" : "are")} not planned, and the scene has what fills {(missing.Length == 1 ? "it" : "them")}.",
                    $"Plan {Names(missing)}.",
                    new WriteCells([.. missing.Select(p => new CellText(layer.Name, p, "x"))])
                );
            }
        }
    }
}

/// <summary>
/// Blur or defocus baked into the beauty while motion or depth passes are planned for adding it afterwards: it would be there twice.
/// </summary>
public sealed class PlanDoubleBlur : PlanRule
{
    public override string Id => "plan.double-blur";

    public override string Title => "Blur would be there twice";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Blur or defocus baked in, and motion or depth passes planned for adding it";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        foreach (LayerPlan layer in context.Layers)
        {
            bool Has(string pass) => layer.Passes.Any(p => p.Pass == pass);
            if (Has("motion") && RenderSettings.IsOn(context.Plan, layer, "motion_blur") == true)
            {
                yield return Found(
                    layer.Name,
                    "motion",
                    "motion_blur",
                    $"{layer.Name} renders motion blur into the beauty and plans motion vectors for adding it.",
                    "Render without motion blur, or leave the motion pass out.",
                    new SetSettings([layer.Name], "motion_blur", "no")
                );
            }

            if (Has("depth") && RenderSettings.IsOn(context.Plan, layer, "defocus") == true)
            {
                yield return Found(
                    layer.Name,
                    "depth",
                    "defocus",
                    $"{layer.Name} renders defocus into the beauty and plans depth, from which a compositor would add it again.",
                    "Render without defocus, or say that the depth is for other uses and waive this.",
                    new SetSettings([layer.Name], "defocus", "no")
                );
            }
        }
    }
}
