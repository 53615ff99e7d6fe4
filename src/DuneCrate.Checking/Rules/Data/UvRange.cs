using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Texture coordinates outside 0..1: tiles, which are legal, or a mistake.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class UvRange : PixelRule
{
    private static readonly RuleThreshold Tolerance = new("tolerance", 1e-3, "how far below 0 or above 1");

    public override string Id => "uv.range";

    public override string Title => "Texture coordinates outside 0 to 1";

    public override Severity Severity => Severity.Note;

    public override string Question => "Texture coordinates outside 0..1";

    public override ImmutableArray<RuleThreshold> Thresholds => [Tolerance];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        let tolerance = context.Threshold(this, Tolerance)
        from pass in output.Passes
        where pass.Definition?.Has(PassMeasures.TextureCoordinates) == true
        let odd = output.Files.Where(f => Samples(pass, f).Any(c => c.Samples.Min < -tolerance || c.Samples.Max > 1 + tolerance)).ToArray()
        where odd.Length > 0
        let frames = FrameSet.From(odd.Select(f => f.Frame))
        let most = odd.SelectMany(f => Samples(pass, f)).Max(c => c.Samples.Max)
        select About(
            output,
            frames,
            "0 to 1",
            string.Create(CultureInfo.InvariantCulture, $"up to {most:0.##}"),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{pass.Name} goes beyond 0 to 1 in {At(frames)}, up to {most:0.##}: tiles, or a mistake."
            ),
            "Tell the compositor when tiles are meant.",
            RemedyKind.Look,
            pass.Name
        );
}
