using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Alpha below 0 or above 1 by more than 0.001.
/// </summary>
/// <remarks>Source: Porter and Duff (1984): coverage is a share.</remarks>
public sealed class AlphaRange : PixelRule
{
    private static readonly RuleThreshold Tolerance = new("tolerance", 1e-3, "how far below 0 or above 1");

    public override string Id => "alpha.range";

    public override string Title => "Alpha outside 0 to 1";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Alpha outside 0..1";

    public override ImmutableArray<RuleThreshold> Thresholds => [Tolerance];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        let tolerance = context.Threshold(this, Tolerance)
        from pass in output.Passes
        from channel in pass.Channels
        where ChannelNames.IsAlpha(channel.Name) || pass.Name == PassKeys.Alpha
        let bad = output.Files.Where(f => f.Find(channel.Name)?.Samples is { } s && (s.Min < -tolerance || s.Max > 1 + tolerance)).ToArray()
        where bad.Length > 0
        let frames = FrameSet.From(bad.Select(f => f.Frame))
        let least = bad.Min(f => f.Find(channel.Name)!.Samples!.Min)
        let most = bad.Max(f => f.Find(channel.Name)!.Samples!.Max)
        select About(
            output,
            frames,
            "0 to 1",
            string.Create(CultureInfo.InvariantCulture, $"{least:0.####} to {most:0.####}"),
            string.Create(CultureInfo.InvariantCulture, $"{channel.Name} runs from {least:0.####} to {most:0.####} in {At(frames)}."),
            Rerender(output, frames),
            RemedyKind.Rerender,
            pass.Name
        );
}
