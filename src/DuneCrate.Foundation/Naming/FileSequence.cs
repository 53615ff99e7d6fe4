using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Foundation.Naming;

/// <summary>Files whose names differ in one number only. A still is a sequence of one file without a frame number.</summary>
/// <param name="Name">The common name; its padding is the one most files keep to.</param>
/// <param name="Files">The files, ascending by frame, then by path. Two files may claim one frame (<c>0012</c> and <c>012</c>).</param>
public sealed record FileSequence(FrameName Name, ImmutableArray<SequenceFile> Files)
{
    /// <summary>Whether this is one file without a frame number.</summary>
    public bool HasNoFrameNumber => Name.Padding == 0;

    /// <summary>The frames found; a still counts as none.</summary>
    public FrameSet Frames { get; } = Name.Padding == 0 ? FrameSet.Empty : FrameSet.From(Files.Select(f => f.Frame));

    /// <summary>The files whose number is not written with the sequence's padding.</summary>
    public IEnumerable<SequenceFile> OddlyPadded()
    {
        int padding = Name.Padding;
        return HasNoFrameNumber ? [] : Files.Where(f => f.Digits != Math.Max(padding, FrameName.DigitsFor(f.Frame)));
    }

    /// <summary>
    /// Frames missing inside first..last at the sequence's own step, which is the most frequent distance between neighbours.
    /// </summary>
    public FrameSet Gaps()
    {
        if (Frames.LongCount < 3)
        {
            return FrameSet.Empty;
        }

        var distances = new Dictionary<long, long>();
        int? last = null;
        foreach (FrameRun run in Frames.Runs)
        {
            if (last is { } before)
            {
                long apart = (long)run.First - before;
                distances[apart] = distances.GetValueOrDefault(apart) + 1;
            }

            if (run.Count > 1)
            {
                distances[run.Step] = distances.GetValueOrDefault(run.Step) + run.Count - 1;
            }

            last = run.Last;
        }

        long step = distances.OrderByDescending(d => d.Value).ThenBy(d => d.Key).First().Key;
        return FrameSet.Range(Frames.First, Frames.Last, step).Except(Frames);
    }
}
