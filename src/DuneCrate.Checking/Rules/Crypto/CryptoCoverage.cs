using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Coverage that rises from one rank to the next, or sums to more than 1.001 (Cryptomatte specification 1.2), in more than a few pixels.
/// </summary>
/// <remarks>Source: Cryptomatte specification 1.2.0.</remarks>
public sealed class CryptoCoverage : PixelRule
{
    private static readonly RuleThreshold Most = new("pixels", 0, "pixels of a frame that may be out of order");

    public override string Id => "crypto.coverage";

    public override string Title => "Cryptomatte coverage is off";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Ranks not falling, or coverage sums above 1.001";

    public override ImmutableArray<RuleThreshold> Thresholds => [Most];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Has(PassMeasures.Cryptomatte) == true
        let bad = output
            .Files.Select(f => (f.Frame, Ranks: Measured(pass, f)?.Crypto))
            .Where(f => f.Ranks is not null && f.Ranks.Rising + f.Ranks.Over > context.Threshold(this, Most))
            .ToArray()
        where bad.Length > 0
        let frames = FrameSet.From(bad.Select(f => f.Frame))
        let worst = bad.MaxBy(f => f.Ranks!.Rising + f.Ranks.Over).Ranks!
        select About(
            output,
            frames,
            "falling ranks that sum to at most 1",
            string.Create(
                CultureInfo.InvariantCulture,
                $"{worst.Rising:N0} pixels with rising ranks, {worst.Over:N0} above 1, up to {worst.WorstSum:0.###}"
            ),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{pass.Name} is out of order in {At(frames)}: {worst.Rising:N0} pixels have rising ranks, {worst.Over:N0} sum to "
                    + $"more than 1."
            ),
            Rerender(output, frames),
            RemedyKind.Rerender,
            pass.Name
        ) with
        {
            At = worst.At,
        };
}
