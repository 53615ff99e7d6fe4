using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Not the format that the name says, a header that contradicts itself or holds a number that is none (see
/// <see cref="ExrNumbers"/>), a format that is not read, or a file of a few bytes that has held still for longer than
/// <see cref="GivenUpAfter"/>. A folder that may not be read is told once, with the frames that are planned in it; they are not missing.
/// </summary>
/// <remarks>Source: OpenEXR, Technical introduction and file layout; ISO/IEC 15948 (PNG), TIFF 6.0, ISO/IEC 10918-1 (JPEG).</remarks>
public sealed class FilesUnreadable : FileRule
{
    /// <summary>After this long without a change a file of a few bytes is not being written any more.</summary>
    public static readonly TimeSpan GivenUpAfter = TimeSpan.FromMinutes(10);

    public override string Id => "files.unreadable";

    public override string Title => "File cannot be read";

    public override Severity Severity => Severity.Blocker;

    public override string Question =>
        "Not the format that its name says, a header that contradicts itself, or a folder that may not be read";

    /// <inheritdoc/>
    public override FrameState StateOf(Finding finding) => BrokenStateOf(finding);

    public override IEnumerable<Finding> Check(CheckContext context) =>
        Files(context).Concat(context.Intake.Closed.Select(c => Folder(context, c)));

    private Finding Folder(CheckContext context, string folder)
    {
        CheckedOutput[] inside = [.. context.Outputs.Where(o => o.IsIn(folder))];
        string[] layers = [.. inside.Select(o => o.Layer).Distinct()];
        return new Finding
        {
            Rule = Id,
            Severity = Severity,
            Output = folder,
            Layer = layers is [var only] ? only : null,
            Frames = FrameSet.UnionOf(inside.Select(o => o.Planned?.Frames ?? FrameSet.Empty)),
            Expected = "a folder that may be read",
            Found = "no permission",
            Message = $"The folder {folder} may not be read; what it holds is not known.",
            Remedy = "Give this application the right to read and enter it, then check again.",
            RemedyKind = RemedyKind.Look,
        };
    }

    private IEnumerable<Finding> Files(CheckContext context) =>
        from output in context.Outputs
        from bad in Group(
            output.Files,
            f =>
                f.Facts.Trouble switch
                {
                    ImageProblem.Unreadable or ImageProblem.Header or ImageProblem.Unsupported or ImageProblem.NotRead => f.Facts.Problem,
                    ImageProblem.Tiny when context.Now - f.Facts.Modified > GivenUpAfter => f.Facts.Problem,
                    _ => null,
                }
        )
        let unsupported = bad.First.Facts.Trouble is ImageProblem.Unsupported or ImageProblem.NotRead
        select About(
            output,
            bad.Frames,
            "a readable OpenEXR file",
            bad.Verdict,
            bad.First.Facts.Trouble == ImageProblem.Header
                ? $"{bad.First.Facts.Path} is damaged: {bad.Verdict}."
                : $"{bad.First.Facts.Path} cannot be {(bad.First.Facts.Readable ? "checked" : "read")}: {bad.Verdict}.",
            !unsupported ? Rerender(output, bad.Frames)
                : bad.First.Facts.Trouble == ImageProblem.NotRead ? "Make the file readable where it lies, then check again."
                : "Write it in a form that is read, or waive it: its pixels are not proved.",
            unsupported ? RemedyKind.Look : RemedyKind.Rerender
        );
}
