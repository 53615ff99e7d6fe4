using System.Globalization;
using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// The pixel aspect ratio differs from the plan's by more than a thousandth.
/// </summary>
public sealed class FormatAspect : Rule
{
    public override string Id => "format.aspect";

    public override string Title => "Pixels of another shape";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Pixel aspect ratio";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null
        let planned = lane.Planned!.Shot.PixelAspectRatio
        from odd in Group(
            lane.Readable,
            f =>
                f.Facts.Parts.FirstOrDefault(p => Math.Abs(p.PixelAspectRatio - planned) > 1e-3) is { } part
                    ? part.PixelAspectRatio.ToString("0.####", CultureInfo.InvariantCulture)
                    : null
        )
        select About(
            lane,
            odd.Frames,
            planned.ToString("0.####", CultureInfo.InvariantCulture),
            odd.Found,
            $"{(odd.Frames.IsStill ? "Frame" : "Frames")} {odd.Frames} {(odd.Frames.IsStill ? "has" : "have")} pixels {odd.Found} as wide as high; {planned.ToString("0.####", CultureInfo.InvariantCulture)} is planned.",
            Rerender(lane, odd.Frames),
            RemedyKind.Rerender
        );
}
