using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>Characters that a file system or a reader will not take, spaces, or a template without a frame for a sequence.</summary>
/// <remarks>Source: POSIX.1-2017, 3.282; OpenEXR, channel names.</remarks>
public sealed class PlanName : PlanRule
{
    public override string Id => "plan.name";

    public override string Title => "Unusable name";

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
                        $"{frames.LongCount} frames are planned and the name {output.Template} has no {{frame}}: every frame would "
                            + $"overwrite the one before.",
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
