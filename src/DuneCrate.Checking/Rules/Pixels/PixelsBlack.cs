using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A beauty with every pixel 0; for other passes a warning when the pass is 0 in every frame: planned for nothing, or hidden behind glass.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PixelsBlack : PixelRule, IReplans
{
    public override string Id => "pixels.black";

    public override string Title => "Black";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A black beauty; another pass that is 0 in every frame";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            foreach (CheckedPass pass in output.Passes)
            {
                CheckedFile[] judged = [.. output.Files.Where(f => Colours(pass, f).Any())];
                FrameSet black = FrameSet.From(judged.Where(f => IsBlack(pass, f)).Select(f => f.Frame));
                if (black.IsEmpty)
                {
                    continue;
                }

                if (pass.Definition?.Kind == PassKind.Combined)
                {
                    yield return About(
                        output,
                        black,
                        "a picture",
                        "every pixel 0",
                        $"The {pass.Name} is black in {At(black)}.",
                        $"Look whether the lights were on. {Rerender(output, black)}",
                        RemedyKind.Rerender,
                        pass.Name
                    );
                }
                else if (black.Count == judged.Length)
                {
                    yield return About(
                        output,
                        black,
                        "something other than 0",
                        "0 in every frame",
                        $"{pass.Name} is 0 throughout: planned for nothing, or what fills it stands behind glass.",
                        "Take it out of the plan, or waive it.",
                        RemedyKind.Replan,
                        pass.Name
                    ) with
                    {
                        Severity = Severity.Warning,
                    };
                }
            }
        }
    }

    /// <summary>A pass that is black in every frame is not planned any more; a black beauty is never what was wanted.</summary>
    public Replan? Replan(ReplanCase at) =>
        at.Finding.Frames.Equals(at.Output.Frames) && at.Finding.Severity != Severity.Blocker
            ? at.WithoutPasses([.. at.Planned.Passes.Where(p => p.Pass == at.Finding.Pass)])
            : null;
}
