using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Rasters;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// The content of a file is of another format than its name says, or its name has another extension than the plan. Frames that are there in
/// the planned format too are for
/// <see cref="FramesDuplicate"/>.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FormatType : FileRule
{
    public override string Id => "format.type";

    public override string Title => "Another file format";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "File format differs from the plan, or from the rest of the sequence";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        (
            from output in context.Outputs
            from odd in Group(output.Files, f => f.Facts.Format != IntakeFile.FormatOf(f.Facts.Path) ? f.Facts.Format : null)
            let found = RasterFile.Words(odd.Verdict)
            let expected = RasterFile.Words(IntakeFile.FormatOf(odd.First.Facts.Path))
            select About(
                output,
                odd.Frames,
                expected,
                found,
                $"{Subject(odd.Frames, "is", "are")} {found} under the name of {expected}.",
                Rerender(output, odd.Frames),
                RemedyKind.Rerender
            )
        ).Concat(
            from stray in context.Strays
            where stray.Kind == StrayKind.Format
            let frames = stray.Sequence.Frames.Except(context.OutputOf(stray).Frames)
            where !frames.IsEmpty
            select AboutStray(
                stray,
                stray.Sequence.Name.ToString(),
                $"{Subject(frames, "came", "came")} as {stray.Sequence.Name}; {stray.Nearest!.Key} is planned.",
                RemedyKind.Rerender
            ) with
            {
                Frames = frames,
                Remedy = $"Re-render {At(frames)} of {stray.Nearest!.Layer.Name} in the planned format.",
            }
        );
}
