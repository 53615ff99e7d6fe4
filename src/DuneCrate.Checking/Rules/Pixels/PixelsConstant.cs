using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Every colour of a pass has one value all over the frame, and it is not black.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PixelsConstant : PixelRule
{
    public override string Id => "pixels.constant";

    public override string Title => "One value throughout";

    public override Severity Severity => Severity.Warning;

    public override string Question => "One value throughout, other than black";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Kind is PassKind.Combined or PassKind.Light or PassKind.Factor or PassKind.Look
        let flat = output
            .Files.Where(f =>
                Colours(pass, f).Any()
                && !IsBlack(pass, f)
                && Colours(pass, f).All(c => c.Samples.Min == c.Samples.Max && c.Samples.Nan + c.Samples.Inf == 0)
            )
            .ToArray()
        where flat.Length > 0
        let frames = FrameSet.From(flat.Select(f => f.Frame))
        let values = string.Join(" ", Colours(pass, flat[0]).Select(c => c.Samples.Min.ToString("0.####", CultureInfo.InvariantCulture)))
        select About(
            output,
            frames,
            "a picture",
            $"{values} all over",
            $"{pass.Name} is {values} all over in {At(frames)}.",
            Rerender(output, frames),
            RemedyKind.Rerender,
            pass.Name
        );
}
