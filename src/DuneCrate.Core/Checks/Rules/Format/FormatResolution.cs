using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>The display window's size differs from the plan's.</summary>
public sealed class FormatResolution : Rule
{
    public override string Id => "format.resolution";

    public override string Title => "Wrong size";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The display window differs from the plan";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        let shot = output.Planned!.Shot
        let planned = $"{shot.Width} × {shot.Height}"
        from odd in Group(
            output.Readable,
            f =>
                f.Facts.Parts.FirstOrDefault(p => p.DisplayWindow.Width != shot.Width || p.DisplayWindow.Height != shot.Height) is { } part
                    ? $"{part.DisplayWindow.Width} × {part.DisplayWindow.Height}"
                    : null
        )
        select About(
            output,
            odd.Frames,
            $"{planned} pixels",
            $"{odd.Found} pixels",
            $"{(odd.Frames.IsStill ? "Frame" : "Frames")} {odd.Frames} {Are(odd.Frames)} {odd.Found} pixels; {planned} is planned.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender
        );
}
