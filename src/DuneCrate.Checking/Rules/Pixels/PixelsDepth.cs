using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// At most 256 distinct levels on the 8-bit grid, linear or through the sRGB curve (IEC 61966-2-1), in a pass planned deeper: 8-bit in
/// disguise. Passes for which 8 bits are enough or tolerable (masks, occlusion, ids) are left out, and so are pictures with fewer than
/// <see cref="FewestLevels"/> levels, which are on some grid by nature.
/// </summary>
/// <remarks>Source: IEC 61966-2-1, the sRGB curve.</remarks>
public sealed class PixelsDepth : PixelRule
{
    /// <summary>With fewer distinct values than this nothing can be said.</summary>
    public const int FewestLevels = 12;

    public override string Id => "pixels.depth";

    public override string Title => "8-bit in disguise";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Only 8-bit levels in a pass planned deeper";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        let deep = output
            .Passes.Where(p =>
                p.Definition?.Kind is PassKind.Combined or PassKind.Light or PassKind.Factor or PassKind.Data
                && p.Channels.All(c => c.Type is ChannelType.Half or ChannelType.Float)
            )
            .ToArray()
        from odd in Group(output.Files, f => OnGrid(deep, f))
        let first = deep.First(p => Grid(p, odd.First) is not null)
        let levels = Colours(first, odd.First).Max(c => c.Samples.Levels).ToString(CultureInfo.InvariantCulture)
        let type = first.Channels[0].Type.Name()
        select About(
            output,
            odd.Frames,
            $"{type} values",
            $"{levels} levels on the 8-bit {Grid(first, odd.First)} grid",
            $"{string.Join(", ", odd.Verdict.Names)} {(odd.Verdict.Count == 1 ? "says" : "say")} {type} "
                + $"and {(odd.Verdict.Count == 1 ? "holds" : "hold")} "
                + $"at most 256 levels in {At(odd.Frames)}: 8-bit in disguise, it will band as soon as exposure moves.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender,
            first.Name
        );

    /// <summary>The passes of a file that lie on the grid; null without any, which is the rule and allocates nothing.</summary>
    private static NameList? OnGrid(CheckedPass[] passes, CheckedFile file) =>
        Array.Exists(passes, p => Grid(p, file) is not null)
            ? NameList.From(passes.Where(p => Grid(p, file) is not null).Select(p => p.Name))
            : null;

    private static string? Grid(CheckedPass pass, CheckedFile file)
    {
        PassSamples colours = Colours(pass, file);
        return !colours.Any() || colours.Max(c => c.Samples.Levels) is < FewestLevels or > 256 ? null
            : colours.All(c => c.Samples.Grid == "linear") ? "linear"
            : colours.All(c => c.Samples.Grid is not null) ? "sRGB"
            : null;
    }
}
