using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// The data window leaves out a part of the display window (a crop: what is outside counts as empty), goes beyond it by more than the plan's overscan, or by
/// less. Formats without windows cannot carry overscan and are not asked for it.
/// </summary>
public sealed class FormatDataWindow : Rule
{
    private const string Crop = "crop",
        Overscan = "overscan",
        TooLittle = "too little overscan";

    public override string Id => "format.data-window";

    public override string Title => "Data window off the frame";

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
            let part = odd.First.Facts.Parts.First(p => Verdict(p, odd.First.Facts, planned) == odd.Found)
            select About(
                output,
                odd.Frames,
                $"{(planned > 0 ? $"{planned} pixels around " : "")}the display window {Text(part.DisplayWindow)}",
                $"{odd.Found}: {Text(part.DataWindow)}",
                Message(odd.Found, odd.Frames, part, planned),
                Remedy(odd.Found, output, odd.Frames, planned),
                odd.Found == Overscan ? RemedyKind.Look : RemedyKind.Rerender
            );
    }

    private static string? Verdict(PartFacts part, FileFacts file, int overscan)
    {
        if (!part.DataWindow.Covers(part.DisplayWindow))
        {
            return Crop;
        }

        PixelBox planned = part.DisplayWindow.Grown(file.Format == "exr" ? overscan : 0);
        return part.DataWindow == planned ? null
            : planned.Covers(part.DataWindow) ? TooLittle
            : Overscan;
    }

    private static string Message(string verdict, FrameSet frames, PartFacts part, int planned)
    {
        string who = $"{(frames.IsStill ? "Frame" : "Frames")} {frames} {(frames.IsStill ? "has" : "have")}",
            windows = $"{Text(part.DataWindow)} around {Text(part.DisplayWindow)}";
        return verdict switch
        {
            Crop =>
                $"The pixels of {Words(frames)} cover only a part of the picture: {Text(part.DataWindow)} of {Text(part.DisplayWindow)}.",
            Overscan when planned > 0 => $"{who} more pixels outside the picture than the {planned} planned on every side: {windows}.",
            Overscan => $"{who} pixels outside the picture: {windows}.",
            _ =>
                $"{who} {(part.DataWindow == part.DisplayWindow ? "no" : "not all of the")} overscan; {planned} pixels are planned on every side: {windows}.",
        };
    }

    private static string Remedy(string verdict, CheckedOutput output, FrameSet frames, int planned) =>
        verdict switch
        {
            Crop => $"Look whether a render region was left on. {Rerender(output, frames)}",
            Overscan => planned > 0
                ? "Tell the compositor, or render with the overscan that is planned."
                : "Plan the overscan, tell the compositor, or render without it.",
            _ => $"Switch the overscan on. {Rerender(output, frames)}",
        };

    private static string Text(PixelBox box) => $"{box.MinX}, {box.MinY} to {box.MaxX}, {box.MaxY}";
}
