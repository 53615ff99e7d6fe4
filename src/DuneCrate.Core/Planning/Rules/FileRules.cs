using DuneCrate.Core.Checks;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Sheet;

namespace DuneCrate.Core.Planning.Rules;

/// <summary>A range that is empty, or a layer outside its shot. One frame outside is a still on purpose.</summary>
public sealed class PlanRange : PlanRule
{
    public override string Id => "plan.range";

    public override string Title => "Range outside the shot";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A range that is empty, or a layer outside its shot";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        FrameSet shot = context.Plan.Shot.Frames;
        if (shot.IsEmpty)
        {
            yield return Found(null, null, "frames", "The shot has no frames.", "Write a range such as 1001-1048.");
        }

        foreach (LayerPlan layer in context.Layers)
        {
            if (layer.Frames is { IsStill: false } frames && frames.Except(shot) is { IsEmpty: false } outside)
            {
                FrameSet inside = frames.Intersect(shot);
                yield return Found(
                    layer.Name,
                    null,
                    "frames",
                    $"Frames {outside} of {layer.Name} lie outside the shot's {shot}.",
                    inside.IsEmpty ? "Take the layer's own range out." : $"Cut its range to {inside}.",
                    new SetLayer(layer.Name) { Frames = inside.ToString() }
                );
            }

            foreach (PassPlan pass in layer.Passes.Where(p => p.Frames is { IsStill: false } own && !own.Except(shot).IsEmpty))
            {
                yield return Found(
                    layer.Name,
                    pass.Pass,
                    "frames",
                    $"Frames {pass.Frames!.Except(shot)} of {pass.Pass} lie outside the shot's {shot}.",
                    "Write frames of the shot, or take them out.",
                    new WriteCells([
                        new CellText(
                            layer.Name,
                            pass.Pass,
                            (PassSheet.Read(context.Plan, layer, pass.Pass) with { Frames = null }).ToString()
                        ),
                    ])
                );
            }
        }
    }
}

/// <summary>The last frame has more digits than the padding; common practice is padding wide enough for the last frame.</summary>
public sealed class PlanPadding : PlanRule
{
    public override string Id => "plan.padding";

    public override string Title => "Padding too narrow";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The last frame has more digits than the padding";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from output in context.Estimate.Outputs.Select(o => o.Output)
        where output.Name.Padding > 1 && !output.Frames.IsEmpty
        let needed = PlanValidation.DigitsNeeded(output.Frames)
        where needed > output.Name.Padding
        select Found(
            output.Layer.Name,
            output.Passes.FirstOrDefault()?.Pass,
            "padding",
            $"Frame {output.Frames.Last} of {output.Key} needs {needed} digits; the padding is {output.Name.Padding}.",
            $"Set the padding to {Math.Max(4, needed)}.",
            new SetOutputs([output.Layer.Name], PassSheet.HomeOf(output.Layer, output.Output))
            {
                Padding = Math.Max(4, needed).ToString(System.Globalization.CultureInfo.InvariantCulture),
            }
        );
}

/// <summary>Two outputs write one path, without regard to case: file systems may not tell them apart.</summary>
public sealed class PlanCollision : PlanRule
{
    public override string Id => "plan.collision";

    public override string Title => "Two outputs write one path";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Two outputs write one path";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from same in context
            .Estimate.Outputs.Select(o => o.Output)
            .GroupBy(o => o.Name.Prefix + "#" + o.Name.Suffix, StringComparer.OrdinalIgnoreCase)
        where same.Count() > 1
        let second = same.Last()
        let first = same.First()
        let home = PassSheet.HomeOf(second.Layer, second.Output)
        select Found(
            second.Layer.Name,
            second.Passes.FirstOrDefault()?.Pass,
            "template",
            $"{first.Layer.Name} and {(first.Layer == second.Layer ? "another output of it" : second.Layer.Name)} both write {second.Key}: each overwrites the other.",
            "Put {layer} or {pass} into the name.",
            new SetOutputs([second.Layer.Name], home)
            {
                Template = home switch
                {
                    PassHome.Own => PassSheet.OwnTemplate,
                    PassHome.Data => PassSheet.DataTemplate,
                    _ => PassSheet.SharedTemplate,
                },
            }
        );
}

/// <summary>Characters that a file system or a reader will not take, spaces, or a template without a frame for a sequence.</summary>
public sealed class PlanName : PlanRule
{
    public override string Id => "plan.name";

    public override string Title => "Name that will not work";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A name that a file system or reader will not take; a sequence without a frame in its name";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        foreach (LayerPlan layer in context.Layers)
        {
            foreach (OutputPlan output in layer.Outputs.Where(o => o.Passes.Any(p => !p.Off)))
            {
                FrameSet frames = output.Frames ?? layer.Frames ?? context.Plan.Shot.Frames;
                PassHome home = PassSheet.HomeOf(layer, output);
                string? pass = output.Passes.First(p => !p.Off).Pass;
                if (!NameTemplate.TryParse(output.Template, out NameTemplate? template, out string? problem))
                {
                    yield return Found(layer.Name, pass, "template", problem, "Write for example {layer}/{shot}_{layer}.{frame}.exr.");
                }
                else if (!template.HasFrame && frames.LongCount > 1)
                {
                    int dot = output.Template.LastIndexOf('.');
                    string mended =
                        dot > output.Template.LastIndexOf('/') ? output.Template.Insert(dot, ".{frame}") : output.Template + ".{frame}.exr";
                    yield return Found(
                        layer.Name,
                        pass,
                        "template",
                        $"{frames.LongCount} frames are planned and the name {output.Template} has no {{frame}}: every frame would overwrite the one before.",
                        $"Name it {mended}.",
                        new SetOutputs([layer.Name], home) { Template = mended }
                    );
                }
                else if (output.Template.Contains(' '))
                {
                    yield return Found(
                        layer.Name,
                        pass,
                        "template",
                        $"The name {output.Template} has a space in it; many readers and scripts split it there.",
                        "Write _ instead.",
                        new SetOutputs([layer.Name], home) { Template = output.Template.Replace(' ', '_') }
                    );
                }
                else if (
                    template.HasFrame
                    && output.Template.LastIndexOf("{frame}", StringComparison.Ordinal) is var frame
                    && output.Template.IndexOf('.', output.Template.LastIndexOf('/') + 1) is var firstDot
                    && firstDot >= 0
                    && !output.Template[(frame + "{frame}".Length)..].Contains('.')
                    && frame > firstDot
                )
                {
                    yield return Found(
                        layer.Name,
                        pass,
                        "template",
                        $"In {output.Template} the number stands after the extension; most readers will not take it for a picture.",
                        "Write name.number.extension."
                    );
                }
            }
        }
    }
}

/// <summary>The estimated size exceeds the room left under the output root.</summary>
public sealed class PlanSpace : PlanRule
{
    public override string Id => "plan.space";

    public override string Title => "Not enough room";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The estimated size exceeds the room left under the output root";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        if (context.FreeBytes is { } free && context.Estimate.Bytes > free)
        {
            yield return Found(
                null,
                null,
                "space",
                $"About {ByteSize.Text(context.Estimate.Bytes)} will be written and {ByteSize.Text(free)} are left.",
                "Make room, render fewer passes at once, or write half where float is not needed."
            );
        }
    }
}
