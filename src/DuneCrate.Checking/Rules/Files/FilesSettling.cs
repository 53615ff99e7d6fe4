using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>Empty or a few bytes, and changed not long ago: still being written, so not judged yet.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FilesSettling : FileRule
{
    public override string Id => "files.settling";

    public override string Title => "Still being written";

    public override Severity Severity => Severity.Note;

    public override string Question => "Empty, tiny or just changed: still being written, so not judged yet";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        let settling = FrameSet.From(
            output
                .Files.Where(f =>
                    f.Facts.Trouble is ImageProblem.Tiny or ImageProblem.Changing
                    && context.Now - f.Facts.Modified <= FilesUnreadable.GivenUpAfter
                )
                .Select(f => f.Frame)
        )
        where !settling.IsEmpty
        select About(
            output,
            settling,
            "a finished file",
            "a few bytes or none, or bytes that change",
            $"{Subject(settling, "is", "are")} still being written, so not judged yet.",
            $"Wait, then check again; after {FilesUnreadable.GivenUpAfter.TotalMinutes:0} minutes without a change it counts as "
                + $"unreadable.",
            RemedyKind.Wait
        );
}
