using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Coverage of 32 × 18 blocks differs by more than half between two passes of a layer in one frame, in more blocks than a few: an
/// object is missing from one of them.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class AlphaAgreement : PixelRule
{
    private static readonly RuleThreshold Blocks = new("blocks", 6, "blocks of 576 that may differ");

    public override string Id => "alpha.agreement";

    public override string Title => "Coverage differs between passes";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Coverage differs between passes of one layer";

    public override ImmutableArray<RuleThreshold> Thresholds => [Blocks];

    /// <summary>Normals that are encoded cover every pixel.</summary>
    public override ImmutableArray<Type> Causes => [typeof(NormalLength)];

    private const int Differs = 128;

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (IGrouping<string, CheckedOutput> layer in context.Outputs.Where(l => l.Planned is not null).GroupBy(l => l.Layer))
        {
            (CheckedOutput Lane, CheckedPass Pass)[] passes = [.. layer.SelectMany(l => l.Passes.Select(p => (l, p)))];
            if (passes.FirstOrDefault(p => p.Pass.Definition?.Kind == PassKind.Combined) is not { Pass: { } main, Lane: { } home })
            {
                continue;
            }

            foreach ((CheckedOutput output, CheckedPass pass) in passes.Where(p => p.Pass != main))
            {
                FrameSet odd = FrameSet.From(
                    output
                        .ByFrame.Values.Where(f =>
                            home.ByFrame.TryGetValue(f.Frame, out CheckedFile? other)
                            && Measured(main, other)?.Coverage is { } one
                            && Measured(pass, f)?.Coverage is { } two
                            && one.Length == two.Length
                            && one.Where((c, i) => Math.Abs(c - two[i]) > Differs).Count() > context.Threshold(this, Blocks)
                        )
                        .Select(f => f.Frame)
                );
                if (!odd.IsEmpty)
                {
                    yield return About(
                        output,
                        odd,
                        $"the coverage of {main.Name}",
                        "another",
                        $"{pass.Name} covers other places than {main.Name} in {At(odd)}: something is in one of them and not in the other.",
                        $"Flip between the two. {Rerender(output, odd)}",
                        RemedyKind.Rerender,
                        pass.Name
                    );
                }
            }
        }
    }
}
