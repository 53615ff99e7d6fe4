namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// Every distance is the background's, all are equal, or some are zero or negative.
/// </summary>
public sealed class DepthRange : PixelRule
{
    public override string Id => "depth.range";

    public override string Title => "Distances make no sense";

    public override Severity Severity => Severity.Warning;

    public override string Question => "All at far, all equal, zero or negative";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        from pass in lane.Passes
        where pass.Definition?.Key == "depth"
        from odd in Group(lane.Files, f => Verdict(pass, f))
        select About(lane, odd.Frames, "distances above 0 that differ", odd.Found, $"{pass.Name} is {odd.Found} in {Words(odd.Frames)}.", Rerender(lane, odd.Frames), RemedyKind.Rerender, pass.Name);

    private static string? Verdict(LanePass pass, LaneFile file)
    {
        if (Samples(pass, file).Select(s => s.Samples).FirstOrDefault() is not { } z || z.Pixels == z.Nan + z.Inf)
        {
            return null;
        }

        return z.Min == z.Max ? z.Min == 0 ? "0 everywhere" : "the same everywhere" : z.Min < 0 ? "negative in places" : z.Zero > 0 && z.Zero < z.Pixels / 1000 ? "0 in places" : z.Zero > 0 && z.Percentiles is { Length: 9 } p && p[4] > 0 ? "0 in places" : null;
    }
}
