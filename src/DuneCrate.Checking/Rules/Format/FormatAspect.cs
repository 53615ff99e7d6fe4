using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// The pixel aspect ratio differs from the plan's by more than a thousandth.
/// </summary>
/// <remarks>Source: OpenEXR, pixelAspectRatio.</remarks>
public sealed class FormatAspect : FileRule, IReplans
{
    public override string Id => "format.aspect";

    public override string Title => "Wrong pixel aspect";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Pixel aspect ratio";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        let planned = output.Planned!.Shot.PixelAspectRatio
        from odd in Group(
            output.Readable,
            f => f.Facts.Parts.FirstOrDefault(p => Math.Abs(p.PixelAspectRatio - planned) > 1e-3)?.PixelAspectRatio
        )
        select About(
            output,
            odd.Frames,
            Text(planned),
            Text(odd.Verdict),
            $"{Subject(odd.Frames, "has", "have")} pixels {Text(odd.Verdict)} as wide as high; {Text(planned)} is planned.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender
        );

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) =>
        at.FirstPart is { PixelAspectRatio: var ratio }
            ? at.WithShot(s => s with { PixelAspectRatio = ratio }, $"pixels are {Text(ratio)} wide")
            : null;

    private static string Text(double ratio) => ratio.ToString("0.####", CultureInfo.InvariantCulture);
}
