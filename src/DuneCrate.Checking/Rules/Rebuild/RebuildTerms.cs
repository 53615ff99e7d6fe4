using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A term of the family that the layer's sum uses is not planned, or two families are mixed, so that light is counted twice. Where the
/// planned sum was measured and holds on every frame, nothing is missing from it.
/// </summary>
/// <remarks>Source: the same.</remarks>
public sealed class RebuildTerms : FileRule, IReplans
{
    public override string Id => "rebuild.terms";

    public override string Title => "The sum cannot add up";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A term of the family is not planned, or two families are mixed";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned?.HasBeauty == true && !output.Frames.IsEmpty && !RuleBook.Residual.Holds(context, output)
        let layer = output.Planned!.Layer
        let found = RebuildSum.MixedIn(output.Catalogue, layer.Rebuild) is { } mixed
            ? $"{mixed.Coarser} and {mixed.Finer} hold the same light"
        : RebuildSum.MissingIn(context.Plan!, layer) is { Length: > 0 } missing ? $"without {string.Join(", ", missing)}"
        : null
        where found is not null
        select About(
            output,
            FrameSet.Empty,
            "every term of one family",
            found,
            $"The sum of {layer.Name} cannot come out: {found}.",
            "Put the sum right in the plan.",
            RemedyKind.Replan,
            PassKeys.Beauty
        );

    /// <summary>The layer sums what its planned passes propose.</summary>
    public Replan? Replan(ReplanCase at)
    {
        LayerPlan layer = at.Planned.Layer;
        ImmutableArray<RebuildTerm> terms = RebuildSum.Propose(at.Output.Catalogue, layer.Passes.Select(p => p.Pass));
        return terms.SequenceEqual(layer.Rebuild)
            ? null
            : at.WithLayer(
                l => l with { Rebuild = terms },
                $"the beauty of {layer.Name} is {(terms.IsEmpty ? "no sum" : string.Join(" + ", terms))}"
            );
    }
}
