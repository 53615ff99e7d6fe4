using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>Temporary and system files beside the frames, all in one finding.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FilesStray : FileRule
{
    public override string Id => "files.stray";

    public override string Title => "Temporary and system files";

    public override Severity Severity => Severity.Note;

    public override string Question => "Temporary and system files beside the frames";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        if (context.Intake.Clutter is not { IsEmpty: false } clutter)
        {
            yield break;
        }

        string files = Words.Count(clutter.Length, "temporary or system file");
        yield return new Finding
        {
            Rule = Id,
            Severity = Severity,
            Output = clutter[0],
            Expected = "frames only",
            Found = files,
            Message =
                $"{files} beside the frames: {Words.List(clutter)}. {(clutter.Length == 1 ? "It does" : "They do")} not go into the crate.",
            Remedy = "Delete them once nothing writes there any more.",
            RemedyKind = RemedyKind.Look,
        };
    }
}
