using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Rules;

/// <summary>A sequence that no output claims and whose name is near none; the nearest output is named.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class OutputsUnplanned : FileRule, IReplans
{
    public override string Id => "outputs.unplanned";

    public override string Title => "Not in the plan";

    public override Severity Severity => Severity.Note;

    public override string Question => "A sequence that no output claims";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from stray in context.Strays
        where !stray.IsMisnamed
        select new Finding
        {
            Rule = Id,
            Severity = Severity,
            Output = stray.Sequence.Name.ToString(),
            Frames = stray.Sequence.Frames,
            Expected = stray.Nearest is null ? "nothing" : $"nothing; nearest is {stray.Nearest!.Key}",
            Found = Words.Count(stray.Sequence.Files.Length, "file"),
            Message = $"{stray.Sequence.Name} is in no output of the plan.",
            Remedy = "Plan it, or leave it: it does not go into the crate.",
            RemedyKind = RemedyKind.Replan,
        };

    /// <inheritdoc/>
    public override FrameState StateOf(Finding finding) => FrameState.Unplanned;

    /// <summary>Plans the sequence in the layer that its folder names; null when a layer has its passes already.</summary>
    public Replan? Replan(ReplanCase at)
    {
        Plan plan = at.Plan;
        if (
            at.Stray is not { } stray
            || stray
                .Sequence.Files.Select(f => at.Context.Intake.Facts[f.Path])
                .FirstOrDefault(f => f is { Readable: true, Parts.IsEmpty: false })
                is not { } first
        )
        {
            return null;
        }

        string name = stray.Sequence.Name.Prefix.IndexOf('/') is > 0 and int slash
            ? stray.Sequence.Name.Prefix[..slash]
            : stray.Nearest?.Layer.Name ?? "frames";
        OutputPlan output = PlanGuess.OutputOf(stray.Sequence, first, plan.Show.Catalogue, plan.Shot.Frames);
        LayerPlan? layer = plan.Layers.FirstOrDefault(l => l.Name == name);

        // A pass stands in one output of a layer; a second file of the same pass cannot be planned.
        if (layer is not null && output.Passes.Any(p => layer.FindPass(p.Pass) is not null))
        {
            return null;
        }

        AlphaMode alpha = output.Passes.Any(p => p.Channels.ContainsKey("A")) ? AlphaMode.Premultiplied : AlphaMode.None;
        return new Replan(
            plan with
            {
                Layers = layer is null
                    ? plan.Layers.Add(
                        new LayerPlan
                        {
                            Name = name,
                            Alpha = alpha,
                            Outputs = [output],
                        }
                    )
                    : plan.Layers.Replace(layer, layer with { Outputs = layer.Outputs.Add(output) }),
            },
            $"{stray.Sequence.Name} planned in {name}"
        );
    }
}
