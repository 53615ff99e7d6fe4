using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A name that is an output's but for letter case. Two names in one folder that differ only in case are a blocker: some file systems take
/// them for one file.
/// </summary>
/// <remarks>Source: file systems that keep letter case apart and those that do not (POSIX.1-2017, 4.8; common practice).</remarks>
public sealed class NamesCase : FileRule
{
    public override string Id => "names.case";

    public override string Title => "Letter case differs";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Right but for letter case; two names that differ only in case";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        context
            .Strays.Where(s => s.Kind == StrayKind.Case)
            .Select(s =>
                AboutStray(
                    s,
                    $"{s.Sequence.Files[0].Path}",
                    $"{s.Sequence.Files[0].Path} should be {s.Nearest!.Name.At(s.Sequence.Files[0].Frame)}: only the letter case differs.",
                    RemedyKind.Rename
                )
            )
            .Concat(
                from clash in context.CaseClashes
                select new Finding
                {
                    Rule = Id,
                    Severity = Severity.Blocker,
                    Output = clash[0],
                    Expected = "names that differ in more than letter case",
                    Found = string.Join(" and ", clash),
                    Message = $"{string.Join(" and ", clash)} differ only in letter case: on some file systems one overwrites the other.",
                    Remedy = "Keep the right one and move the other away.",
                }
            );
}
