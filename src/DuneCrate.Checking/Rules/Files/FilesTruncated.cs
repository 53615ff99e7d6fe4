using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>Bytes or chunks are missing; says which lines of the picture are lost.</summary>
/// <remarks>Source: OpenEXR file layout, Chunk offset table.</remarks>
public sealed class FilesTruncated : FileRule
{
    public override string Id => "files.truncated";

    public override string Title => "File ends early";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Bytes or chunks are missing";

    /// <inheritdoc/>
    public override FrameState StateOf(Finding finding) => BrokenStateOf(finding);

    public override IEnumerable<Finding> Check(CheckContext context) =>
        (
            from output in context.Outputs
            from bad in Group(output.Files, f => f.Facts.Trouble == ImageProblem.Truncated ? f.Facts.Problem : null)
            select About(
                output,
                bad.Frames,
                "every line of the picture",
                bad.Verdict,
                $"{bad.First.Facts.Path} is damaged: {bad.Verdict}.",
                Rerender(output, bad.Frames),
                RemedyKind.Rerender
            )
        ).Concat(
            from output in context.Outputs
            let mended = FrameSet.From(
                output.Files.Where(f => f.Facts is { MendedChunks: > 0, Trouble: ImageProblem.None }).Select(f => f.Frame)
            )
            where !mended.IsEmpty
            let first = output.Files.First(f => f.Frame == mended.First && f.Facts.MendedChunks > 0).Facts
            let pixels = context.Intake.Depth == FactsDepth.Pixels
            select About(
                output,
                mended,
                "a finished chunk table",
                $"{first.MendedChunks} entries missing in {first.Path}",
                $"The chunk table of {At(mended)} was never finished. {(pixels ? "Every line was found" : "The chunks were found")} "
                    + "by walking through the file, but other readers may refuse it.",
                $"{Rerender(output, mended)} Or waive it: the compositor then gets the file as it is.",
                RemedyKind.Rerender
            ) with
            {
                Severity = Severity.Warning,
            }
        );
}
