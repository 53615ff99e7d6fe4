using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// Not the format that the name says, a header that contradicts itself, a format that is not read, or a file of a few bytes that
/// has held still for longer than <see cref="GivenUpAfter"/>.
/// </summary>
public sealed class FilesUnreadable : Rule
{
    /// <summary>After this long without a change a file of a few bytes is not being written any more.</summary>
    public static readonly TimeSpan GivenUpAfter = TimeSpan.FromMinutes(10);

    public override string Id => "files.unreadable";

    public override string Title => "File cannot be read";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Not the format that its name says, or a header that contradicts itself";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        from bad in Group(lane.Files, f => f.Facts.Trouble switch
        {
            ImageProblem.Unreadable or ImageProblem.Unsupported => f.Facts.Problem,
            ImageProblem.Tiny when context.Now - f.Facts.Modified > GivenUpAfter => f.Facts.Problem,
            _ => null,
        })
        let unsupported = bad.First.Facts.Trouble == ImageProblem.Unsupported
        select About(lane, bad.Frames, "a readable OpenEXR file", bad.Found,
            $"{bad.First.Facts.Path} cannot be {(bad.First.Facts.Readable ? "checked" : "read")}: {bad.Found}.",
            unsupported ? "Write it in a form that is read, or waive it: its pixels are not proved." : Rerender(lane, bad.Frames),
            unsupported ? RemedyKind.Look : RemedyKind.Rerender);
}

/// <summary>Bytes or chunks are missing; says which lines of the picture are lost.</summary>
public sealed class FilesTruncated : Rule
{
    public override string Id => "files.truncated";

    public override string Title => "File ends early";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Bytes or chunks are missing";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        (from lane in context.Lanes
         from bad in Group(lane.Files, f => f.Facts.Trouble == ImageProblem.Truncated ? f.Facts.Problem : null)
         select About(lane, bad.Frames, "every line of the picture", bad.Found,
             $"{bad.First.Facts.Path} is damaged: {bad.Found}.", Rerender(lane, bad.Frames), RemedyKind.Rerender))
        .Concat(
            from lane in context.Lanes
            let mended = FrameSet.From(lane.Files.Where(f => f.Facts is { MendedChunks: > 0, Trouble: ImageProblem.None }).Select(f => f.Frame))
            where !mended.IsEmpty
            let first = lane.ByFrame[mended.First].Facts
            select About(lane, mended, "a finished chunk table", $"{first.MendedChunks} entries missing in {first.Path}",
                $"The chunk table of {Words(mended)} was never finished. The picture is whole and was found by walking the chunks, but other readers may refuse it.",
                $"{Rerender(lane, mended)} Or waive it: the crate writes the table anew.", RemedyKind.Rerender) with
            { Severity = Severity.Warning });
}

/// <summary>Empty or a few bytes, and changed not long ago: still being written, so not judged yet.</summary>
public sealed class FilesSettling : Rule
{
    public override string Id => "files.settling";

    public override string Title => "Still being written";

    public override Severity Severity => Severity.Note;

    public override string Question => "Empty, tiny or just changed: still being written, so not judged yet";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        let settling = FrameSet.From(lane.Files.Where(f => f.Facts.Trouble == ImageProblem.Tiny && context.Now - f.Facts.Modified <= FilesUnreadable.GivenUpAfter).Select(f => f.Frame))
        where !settling.IsEmpty
        select About(lane, settling, "a finished file", "a few bytes or none",
            $"{(settling.IsStill ? "Frame" : "Frames")} {settling} {Are(settling)} still being written, so not judged yet.",
            $"Wait, then check again; after {FilesUnreadable.GivenUpAfter.TotalMinutes:0} minutes without a change it counts as unreadable.", RemedyKind.Wait);
}
