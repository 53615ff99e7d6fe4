using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>A sequence that no output claims and whose name is near none; the nearest output is named.</summary>
public sealed class OutputsUnplanned : Rule
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
            Found = stray.Sequence.Files.Length == 1 ? "1 file" : $"{stray.Sequence.Files.Length} files",
            Message = $"{stray.Sequence.Name} is in no output of the plan.",
            Remedy = "Plan it, or leave it: it does not go into the crate.",
            RemedyKind = RemedyKind.Replan,
        };
}
