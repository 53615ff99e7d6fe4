using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// The distance between two neighbouring values at the farthest distance: 2^(floor(log2 d) − 10) for half, 2^(floor(log2 d) − 23)
/// for float (IEEE 754). What
/// another rule says of the same frames is not said twice.
/// </summary>
/// <remarks>Source: IEEE 754: 10 and 23 bits of fraction.</remarks>
public sealed class DepthPrecision : PixelRule
{
    private static readonly RuleThreshold Tolerance = new("tolerance", 0.1, "scene units");

    public override string Id => "depth.precision";

    public override string Title => "Depth runs out of steps";

    public override Severity Severity => Severity.Warning;

    public override string Question => "The step of the stored type at the far distance exceeds the tolerance";

    public override ImmutableArray<RuleThreshold> Thresholds => [Tolerance];

    public override bool IsSymptom => true;

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Has(PassMeasures.Depth) == true
        from odd in Group(
            output.Files,
            f => Step(pass, f) > context.Threshold(this, Tolerance) ? f.Find(pass.Channels[0].Name)!.Type : (ChannelType?)null
        )
        let depth = Measured(pass, odd.First)!.Depth!
        select About(
            output,
            odd.Frames,
            string.Create(CultureInfo.InvariantCulture, $"steps of at most {context.Threshold(this, Tolerance):0.####}"),
            string.Create(CultureInfo.InvariantCulture, $"{Step(pass, odd.First):0.####} at {depth.Farthest:0.##}"),
            string.Create(
                CultureInfo.InvariantCulture,
                $"{pass.Name} is stored as {odd.Verdict.Name()}, whose steps are {Step(pass, odd.First):0.####} at the farthest "
                    + $"distance {depth.Farthest:0.##}, in {At(odd.Frames)}."
            ),
            $"Store it as float. {Rerender(output, odd.Frames)}",
            RemedyKind.Rerender,
            pass.Name
        );

    private static double Step(CheckedPass pass, CheckedFile file) =>
        Measured(pass, file)?.Depth is { Farthest: > 0 } depth
        && pass.Channels.Length > 0
        && file.Find(pass.Channels[0].Name) is { } channel
            ? Math.Pow(
                2,
                Math.Floor(Math.Log2(depth.Farthest))
                    - (
                        channel.Type == ChannelType.Half ? 10
                        : channel.Type == ChannelType.Float ? 23
                        : 60
                    )
            )
            : 0;
}
