using System.Globalization;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images.Statistics;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>What pixel rules share: the statistics of a pass in a file.</summary>
public abstract class PixelRule : Rule
{
    /// <inheritdoc/>
    public override FactsDepth Depth => FactsDepth.Pixels;

    /// <summary>The statistics of a pass's channels in a file, those that were read.</summary>
    protected static IEnumerable<(string Channel, SampleStatistics Samples)> Samples(LanePass pass, LaneFile file) =>
        pass.Channels.Select(c => file.Facts.FindChannel(c.Name)).Where(c => c?.Samples is not null).Select(c => (c!.Name, c.Samples!));

    /// <summary>The same without alpha.</summary>
    protected static IEnumerable<(string Channel, SampleStatistics Samples)> Colours(LanePass pass, LaneFile file) =>
        Samples(pass, file).Where(c => !ChannelMatch.IsAlpha(c.Channel));

    /// <summary>Whether a picture was read and every sample of it is 0.</summary>
    protected static bool IsBlack(LanePass pass, LaneFile file) =>
        Colours(pass, file).Any() && Colours(pass, file).All(c => c.Samples is { Min: 0, Max: 0, Nan: 0, Inf: 0 });
}

/// <summary>NaN or infinity: count, box and first place.</summary>
public sealed class PixelsNonFinite : PixelRule
{
    public override string Id => "pixels.nonfinite";

    public override string Title => "Not a number";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "NaN or infinite samples: count, box, first place";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckLane lane in context.Lanes)
        {
            foreach (LanePass pass in lane.Passes)
            {
                LaneFile[] bad = [.. lane.Files.Where(f => Samples(pass, f).Any(c => c.Samples.Nan + c.Samples.Inf > 0))];
                if (bad.Length == 0)
                {
                    continue;
                }

                FrameSet frames = FrameSet.From(bad.Select(f => f.Frame));
                (string channel, SampleStatistics worst) = Samples(pass, bad[0]).First(c => c.Samples.FirstNonFinite is not null);
                long nan = bad.Sum(f => Samples(pass, f).Sum(c => c.Samples.Nan)), inf = bad.Sum(f => Samples(pass, f).Sum(c => c.Samples.Inf));
                int[] at = worst.FirstNonFinite!, box = worst.NonFiniteBox!;
                yield return About(lane, frames, "finite numbers", $"{nan} NaN, {inf} infinite",
                    $"{nan} NaN and {inf} infinite samples in {Words(frames)}; the first is {channel} at {at[0]}, {at[1]} of frame {bad[0].Frame}, all inside {box[0]}, {box[1]} to {box[2]}, {box[3]}.",
                    Rerender(lane, frames), RemedyKind.Rerender, pass.Name) with
                { At = at };
            }
        }
    }
}

/// <summary>A beauty with every pixel 0; for other passes a warning when the pass is 0 in every frame: planned for nothing, or hidden behind glass.</summary>
public sealed class PixelsBlack : PixelRule
{
    public override string Id => "pixels.black";

    public override string Title => "Black";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A black beauty; another pass that is 0 in every frame";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckLane lane in context.Lanes)
        {
            foreach (LanePass pass in lane.Passes)
            {
                LaneFile[] judged = [.. lane.Files.Where(f => Colours(pass, f).Any())];
                FrameSet black = FrameSet.From(judged.Where(f => IsBlack(pass, f)).Select(f => f.Frame));
                if (black.IsEmpty)
                {
                    continue;
                }

                if (pass.Definition?.Kind == PassKind.Combined)
                {
                    yield return About(lane, black, "a picture", "every pixel 0",
                        $"The {pass.Name} is black in {Words(black)}.", $"Look whether the lights were on. {Rerender(lane, black)}", RemedyKind.Rerender, pass.Name);
                }
                else if (black.Count == judged.Length)
                {
                    yield return About(lane, black, "something other than 0", "0 in every frame",
                        $"{pass.Name} is 0 throughout: planned for nothing, or what fills it stands behind glass.",
                        "Take it out of the plan, or waive it.", RemedyKind.Replan, pass.Name) with
                    { Severity = Severity.Warning };
                }
            }
        }
    }
}

/// <summary>
/// At most 256 distinct levels on the 8-bit grid, linear or through the sRGB curve (IEC 61966-2-1), in a pass planned deeper: 8-bit in
/// disguise. Passes for which 8 bits are enough or tolerable (masks, occlusion, ids) are left out, and so are pictures with fewer than
/// <see cref="FewestLevels"/> levels, which are on some grid by nature.
/// </summary>
public sealed class PixelsDepth : PixelRule
{
    /// <summary>With fewer distinct values than this nothing can be said.</summary>
    public const int FewestLevels = 12;

    public override string Id => "pixels.depth";

    public override string Title => "8-bit in disguise";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Only 8-bit levels in a pass planned deeper";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        let deep = lane.Passes.Where(p => p.Definition?.Kind is PassKind.Combined or PassKind.Light or PassKind.Factor or PassKind.Data && p.Channels.All(c => c.Type is ChannelType.Half or ChannelType.Float)).ToArray()
        from odd in Group(lane.Files, f => deep.Where(p => Grid(p, f) is not null).Select(p => p.Name).ToArray() is { Length: > 0 } names ? string.Join(", ", names) : null)
        let first = deep.First(p => Grid(p, odd.First) is not null)
        let levels = Colours(first, odd.First).Max(c => c.Samples.Levels).ToString(CultureInfo.InvariantCulture)
        let type = first.Channels[0].Type.Name()
        select About(lane, odd.Frames, $"{type} values", $"{levels} levels on the 8-bit {Grid(first, odd.First)} grid",
            $"{odd.Found} {(odd.Found.Contains(',') ? "say" : "says")} {type} and {(odd.Found.Contains(',') ? "hold" : "holds")} at most 256 levels in {Words(odd.Frames)}: 8-bit in disguise, it will band as soon as exposure moves.",
            Rerender(lane, odd.Frames), RemedyKind.Rerender, first.Name);

    private static string? Grid(LanePass pass, LaneFile file)
    {
        var colours = Colours(pass, file).Select(c => c.Samples).ToArray();
        return colours.Length == 0 || colours.Max(c => c.Levels) is < FewestLevels or > 256 ? null :
            colours.All(c => c.Grid == "linear") ? "linear" :
            colours.All(c => c.Grid is not null) ? "sRGB" : null;
    }
}

/// <summary>
/// A decoded picture that is identical to the frame before, where its neighbours change: at most <see cref="LongestRun"/> equal
/// frames in a row, while more than half of the pairs of successive frames nearby differ. Longer holds are taken as meant.
/// </summary>
public sealed class PixelsRepeat : PixelRule
{
    /// <summary>More equal frames than this in a row are a hold, not a slip.</summary>
    public const int LongestRun = 3;

    /// <summary>Frames to each side that count as nearby.</summary>
    public const int Nearby = 6;

    public override string Id => "pixels.repeat";

    public override string Title => "Frame repeated";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A picture identical to the frame before, where its neighbours change";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckLane lane in context.Lanes)
        {
            LanePass? pass = lane.Passes.FirstOrDefault(p => p.Definition?.Kind == PassKind.Combined) ?? (lane.Passes.IsEmpty ? null : lane.Passes[0]);
            (int Frame, string? Picture)[] pictures = pass is null ? [] : [.. lane.ByFrame.Values.Select(f => (f.Frame, Picture(pass, f)))];
            FrameSet repeats = FrameSet.From(Repeats(pictures));
            if (!repeats.IsEmpty)
            {
                yield return About(lane, repeats, "a picture of its own", "the frame before once more",
                    $"{(repeats.IsStill ? "Frame" : "Frames")} {repeats} {(repeats.IsStill ? "is" : "are")} the same picture as the frame before, while the frames around move.",
                    Rerender(lane, repeats), RemedyKind.Rerender, pass!.Name);
            }
        }
    }

    private static IEnumerable<int> Repeats((int Frame, string? Picture)[] pictures)
    {
        bool Same(int i) => i > 0 && i < pictures.Length && pictures[i].Picture is { } hash && hash == pictures[i - 1].Picture;
        for (int i = 1; i < pictures.Length; i++)
        {
            if (!Same(i))
            {
                continue;
            }

            int first = i, last = i;
            while (Same(last + 1))
            {
                last++;
            }

            int[] around = [.. Enumerable.Range(first - Nearby, last - first + 1 + 2 * Nearby).Where(k => k > 0 && k < pictures.Length && (k < first || k > last))];
            if (last - first + 2 <= LongestRun && around.Length > 0 && around.Count(k => !Same(k)) * 2 > around.Length)
            {
                for (int k = first; k <= last; k++)
                {
                    yield return pictures[k].Frame;
                }
            }

            i = last;
        }
    }

    /// <summary>The hashes of a pass's channels; null without pixels and for flat pictures, which are equal by nature.</summary>
    private static string? Picture(LanePass pass, LaneFile file)
    {
        var samples = Samples(pass, file).Select(c => c.Samples).ToArray();
        return samples.Length == 0 || samples.All(s => s.Min == s.Max) ? null : string.Concat(samples.Select(s => s.Hash));
    }
}
