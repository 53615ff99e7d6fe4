using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>Numbers written with other digits than planned, or than the rest of the sequence.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class NamesPadding : FileRule
{
    public override string Id => "names.padding";

    public override string Title => "Padding differs";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Padding differs from the plan, or within a sequence";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Name.Padding > 0
        from odd in Group(
            output.Files,
            f => f.Digits == Math.Max(output.Name.Padding, FrameName.DigitsFor(f.Frame)) ? null : (int?)f.Digits
        )
        select About(
            output,
            odd.Frames,
            Words.Count(output.Name.Padding, "digit"),
            Words.Count(odd.Verdict, "digit"),
            $"{odd.First.Facts.Path} is written with {Words.Count(odd.Verdict, "digit")} where "
                + $"{output.Name.Padding} are {(output.Planned is null ? "usual in it" : "planned")}.",
            $"Rename to {output.Name.At(odd.First.Frame)}{(odd.Frames.IsStill ? "" : " and so on")}; the crate does it in any case.",
            RemedyKind.Rename
        );
}
