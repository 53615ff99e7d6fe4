using DuneCrate.Core.Frames;
using DuneCrate.Core.Images.Statistics;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// Frames whose sizes and decoded pictures are the same in every channel, while most of the sequence changes. Flat pictures are alike by nature. What <see cref="PixelsRepeat"/> says is not said twice.
/// </summary>
public sealed class FilesCopy : PixelRule
{
    public override string Id => "files.copy";

    public override string Title => "The same file twice";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Two frames with the same bytes";

    public override bool IsSymptom => true;

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckLane lane in context.Lanes)
        {
            (LaneFile File, string Content)[] files = [.. lane.ByFrame.Values.Select(f => (f, ContentOf(f))).Where(f => f.Item2 is not null)!];
            LaneFile[][] same = [.. files.GroupBy(f => (f.File.Facts.Bytes, f.Content)).Where(g => g.Count() > 1).Select(g => g.Select(f => f.File).ToArray())];
            if (same.Length > 0 && same.Sum(s => s.Length) * 2 <= files.Length)
            {
                FrameSet copies = FrameSet.From(same.SelectMany(s => s.Skip(1)).Select(f => f.Frame));
                yield return About(lane, copies, "a picture of its own", $"that of frame {same[0][0].Frame}", $"{(copies.IsStill ? "Frame" : "Frames")} {copies} {Are(copies)} the same as {string.Join(", ", same.Select(s => s[0].Frame).Distinct().Take(4))}, byte for byte.", Rerender(lane, copies), RemedyKind.Rerender);
            }
        }
    }

    private static string? ContentOf(LaneFile file)
    {
        SampleStatistics[] samples = [.. file.Facts.Channels.Select(c => c.Samples).OfType<SampleStatistics>()];
        return samples.Length == 0 || samples.All(s => s.Min == s.Max) ? null : string.Concat(samples.Select(s => s.Hash));
    }
}
