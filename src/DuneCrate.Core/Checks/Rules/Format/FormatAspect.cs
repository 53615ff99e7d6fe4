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
        from output in context.Outputs
        where output.Planned is not null
        let planned = output.Planned!.Shot.PixelAspectRatio
        from odd in Group(
            output.Readable,
            f =>
                f.Facts.Parts.FirstOrDefault(p => Math.Abs(p.PixelAspectRatio - planned) > 1e-3) is { } part
                    ? part.PixelAspectRatio.ToString("0.####", CultureInfo.InvariantCulture)
                    : null
        )
        select About(
            output,
            odd.Frames,
            planned.ToString("0.####", CultureInfo.InvariantCulture),
            odd.Found,
            $"{(odd.Frames.IsStill ? "Frame" : "Frames")} {odd.Frames} {(odd.Frames.IsStill ? "has" : "have")} pixels {odd.Found} as wide as high; {planned.ToString("0.####", CultureInfo.InvariantCulture)} is planned.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender
        );
}
