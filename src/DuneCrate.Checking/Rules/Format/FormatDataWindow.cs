using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Exr;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// The data window leaves out a part of the display window (a crop: what is outside counts as empty), goes beyond it by more than the
/// plan's overscan, or by
/// less. Formats without windows cannot carry overscan and are not asked for it.
/// </summary>
/// <remarks>Source: OpenEXR, dataWindow and displayWindow.</remarks>
public sealed class FormatDataWindow : FileRule, IReplans
{
    public override string Id => "format.data-window";

    public override string Title => "Data window does not match";

    public override Severity Severity => Severity.Warning;

    public override string Question =>
        "The data window cuts into the display window, exceeds it unplanned, or lacks the overscan that is planned";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        int planned = context.Plan?.Shot.Overscan ?? 0;
        return from output in context.Outputs
            from odd in Group(
                output.Readable,
                f => f.Facts.Parts.Select(p => Verdict(p, f.Facts, planned)).FirstOrDefault(v => v is not null)
            )
            let part = odd.First.Facts.Parts.First(p => Verdict(p, odd.First.Facts, planned) == odd.Verdict)
            select About(
                output,
                odd.Frames,
                $"{(planned > 0 ? $"{planned} pixels around " : "")}the display window {Text(part.DisplayWindow)}",
                $"{Words.Choice(odd.Verdict)}: {Text(part.DataWindow)}",
                Message(odd.Verdict, odd.Frames, part, planned),
                Remedy(odd.Verdict, output, odd.Frames, planned),
                odd.Verdict == Window.Overscan ? RemedyKind.Look : RemedyKind.Rerender
            );
    }

    private static Window? Verdict(PartFacts part, FileFacts file, int overscan)
    {
        if (!part.DataWindow.Covers(part.DisplayWindow))
        {
            return Window.Crop;
        }

        PixelBox planned = part.DisplayWindow.Grown(file.Format == "exr" ? overscan : 0);
        return part.DataWindow == planned ? null
            : planned.Covers(part.DataWindow) ? Window.TooLittleOverscan
            : Window.Overscan;
    }

    private static string Message(Window verdict, FrameSet frames, PartFacts part, int planned)
    {
        string who = $"{Subject(frames, "has", "have")}",
            windows = $"{Text(part.DataWindow)} around {Text(part.DisplayWindow)}";
        return verdict switch
        {
            Window.Crop =>
                $"The pixels of {At(frames)} cover only a part of the picture: {Text(part.DataWindow)} of {Text(part.DisplayWindow)}.",
            Window.Overscan when planned > 0 =>
                $"{who} more pixels outside the picture than the {planned} planned on every side: {windows}.",
            Window.Overscan => $"{who} pixels outside the picture: {windows}.",
            _ => $"{who} {(part.DataWindow == part.DisplayWindow ? "no" : "not all of the")} overscan; {planned} pixels are planned "
                + $"on every side: {windows}.",
        };
    }

    private static string Remedy(Window verdict, CheckedOutput output, FrameSet frames, int planned) =>
        verdict switch
        {
            Window.Crop => $"Look whether a render region was left on. {Rerender(output, frames)}",
            Window.Overscan => planned > 0
                ? "Tell the compositor, or render with the overscan that is planned."
                : "Plan the overscan, tell the compositor, or render without it.",
            _ => $"Switch the overscan on. {Rerender(output, frames)}",
        };

    private static string Text(PixelBox box) => $"{box.MinX}, {box.MinY} to {box.MaxX}, {box.MaxY}";

    /// <summary>Plans the overscan that came, or none.</summary>
    public Replan? Replan(ReplanCase at) =>
        at.FirstPart?.Overscan is { } border && border != at.Plan.Shot.Overscan
            ? at.WithShot(
                s => s with { Overscan = border },
                border > 0 ? $"the shot has {Words.Count(border, "pixel")} of overscan" : "the shot has no overscan"
            )
            : null;

    /// <summary>How a data window differs from what is planned.</summary>
    private enum Window
    {
        Crop,
        Overscan,
        TooLittleOverscan,
    }
}
