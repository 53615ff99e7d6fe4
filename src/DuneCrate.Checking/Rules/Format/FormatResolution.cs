using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Rules;

/// <summary>The display window's size differs from the plan's.</summary>
/// <remarks>Source: OpenEXR, displayWindow.</remarks>
public sealed class FormatResolution : FileRule, IReplans
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
        from odd in Group(output.Readable, f => Other(f.Facts, shot))
        select About(
            output,
            odd.Frames,
            $"{planned} pixels",
            $"{odd.Verdict} pixels",
            $"{Subject(odd.Frames, "is", "are")} {odd.Verdict} pixels; {planned} is planned.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender
        );

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) =>
        at.FirstPart is { DisplayWindow: var window }
            ? at.WithShot(
                s => s with { Width = (int)window.Width, Height = (int)window.Height },
                $"the shot is {new Size(window.Width, window.Height)}"
            )
            : null;

    private static Size? Other(FileFacts facts, ShotPlan shot) =>
        facts
            .Parts.Select(p => new Size(p.DisplayWindow.Width, p.DisplayWindow.Height))
            .Cast<Size?>()
            .FirstOrDefault(s => s != new Size(shot.Width, shot.Height));

    private readonly record struct Size(long Width, long Height)
    {
        public override string ToString() => $"{Width} × {Height}";
    }
}
