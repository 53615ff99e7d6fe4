using DuneCrate.Core.Images;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// The data window leaves out a part of the display window (a crop: what is outside counts as empty) or goes beyond it (overscan).
/// </summary>
public sealed class FormatDataWindow : Rule
{
    public override string Id => "format.data-window";

    public override string Title => "Data window off the frame";

    public override Severity Severity => Severity.Warning;

    public override string Question => "The data window cuts into the display window, or exceeds it unplanned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        from odd in Group(lane.Readable, f => f.Facts.Parts.Select(p => Verdict(p.DataWindow, p.DisplayWindow)).FirstOrDefault(v => v is not null))
        let part = odd.First.Facts.Parts.First(p => Verdict(p.DataWindow, p.DisplayWindow) == odd.Found)
        select About(lane, odd.Frames, $"the display window {Text(part.DisplayWindow)}", $"{odd.Found}: {Text(part.DataWindow)}",
            odd.Found == "crop" ? $"The pixels of {Words(odd.Frames)} cover only a part of the picture: {Text(part.DataWindow)} of {Text(part.DisplayWindow)}."
                : $"{(odd.Frames.IsStill ? "Frame" : "Frames")} {odd.Frames} {(odd.Frames.IsStill ? "has" : "have")} pixels outside the picture: {Text(part.DataWindow)} around {Text(part.DisplayWindow)}.",
            odd.Found == "crop" ? $"Look whether a render region was left on. {Rerender(lane, odd.Frames)}" : "Tell the compositor, or render without overscan.", odd.Found == "crop" ? RemedyKind.Rerender : RemedyKind.Look);

    private static string? Verdict(PixelBox data, PixelBox display) =>
        data.MinX > display.MinX || data.MinY > display.MinY || data.MaxX < display.MaxX || data.MaxY < display.MaxY ? "crop" : data != display ? "overscan" : null;

    private static string Text(PixelBox box) => $"{box.MinX}, {box.MinY} to {box.MaxX}, {box.MaxY}";
}
