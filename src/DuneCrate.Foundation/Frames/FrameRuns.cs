using System.Collections.Immutable;

namespace DuneCrate.Foundation.Frames;

/// <summary>Takes runs apart and puts them together: what <see cref="FrameSet"/> is made of.</summary>
internal static class FrameRuns
{
    /// <summary>Takes a run out of another: adds what is left before its end, and returns what is left behind it.</summary>
    public static FrameRun? Subtract(FrameRun run, FrameRun taken, List<FrameRun> left)
    {
        if (run.Shared(taken) is not { } gone)
        {
            return run;
        }

        if (run.First < gone.First && run.Within(run.First, gone.First - 1L) is { } before)
        {
            left.Add(before);
        }

        long stride = gone.Count == 1 ? run.Step : gone.Step;
        if (gone.Count <= stride / run.Step)
        {
            // Few and far apart: the stretches between them.
            for (long at = gone.First; at < gone.Last; at += stride)
            {
                if (run.Within(at + 1, at + stride - 1) is { } between)
                {
                    left.Add(between);
                }
            }
        }
        else
        {
            // Many and near: what keeps the same distance behind each of them.
            for (long phase = run.Step; phase < stride; phase += run.Step)
            {
                long end = gone.Last - stride + phase;
                left.Add(new FrameRun((int)(gone.First + phase), (int)end, end == gone.First + phase ? 1 : stride));
            }
        }

        return run.Last > gone.Last ? run.Within(gone.Last + 1L, run.Last) : null;
    }

    /// <summary>
    /// The canonical set of any runs. Unbroken runs are joined as runs; frames of steps are told one by one only where steps interleave
    /// with each other.
    /// </summary>
    public static ImmutableArray<FrameRun> Canonical(List<FrameRun> runs)
    {
        List<FrameRun> solid = Joined(runs.Where(r => r.Step == 1)),
            stepped = [];
        long told = 0;
        foreach (FrameRun run in runs.Where(r => r.Step > 1))
        {
            Cut(run, solid, stepped, ref told);
        }

        var builder = new FrameRunBuilder();
        stepped.Sort((a, b) => a.First != b.First ? a.First.CompareTo(b.First) : a.Last.CompareTo(b.Last));
        int s = 0;
        for (int i = 0; i < stepped.Count; )
        {
            int end = stepped[i].Last,
                j = i + 1;
            while (j < stepped.Count && stepped[j].First <= end)
            {
                end = Math.Max(end, stepped[j].Last);
                j++;
            }

            // Stepped runs are cut where unbroken ones begin: those before a cluster are fed before it, none lies inside.
            for (; s < solid.Count && solid[s].First < stepped[i].First; s++)
            {
                builder.Add(solid[s]);
            }

            if (j == i + 1)
            {
                builder.Add(stepped[i]);
            }
            else
            {
                Interleave(stepped, i, j, builder, ref told);
            }

            i = j;
        }

        for (; s < solid.Count; s++)
        {
            builder.Add(solid[s]);
        }

        return builder.ToRuns();
    }

    /// <summary>Unbroken runs, ascending, with those joined that touch or overlap.</summary>
    private static List<FrameRun> Joined(IEnumerable<FrameRun> runs)
    {
        var joined = new List<FrameRun>();
        foreach (FrameRun run in runs.OrderBy(r => r.First))
        {
            if (joined.Count > 0 && run.First <= joined[^1].Last + 1L)
            {
                joined[^1] = new FrameRun(joined[^1].First, Math.Max(joined[^1].Last, run.Last), 1);
            }
            else
            {
                joined.Add(run);
            }
        }

        return joined;
    }

    /// <summary>The pieces of a stepped run that lie between unbroken ones.</summary>
    private static void Cut(FrameRun run, List<FrameRun> solid, List<FrameRun> pieces, ref long told)
    {
        FrameRun? rest = run;
        int i = FirstEndingFrom(solid, run.First);
        for (; rest is { } open && i < solid.Count && solid[i].First <= open.Last; i++)
        {
            if (++told > FrameSet.MostListed)
            {
                throw TooMany();
            }

            if (open.First < solid[i].First && open.Within(open.First, solid[i].First - 1L) is { } before)
            {
                pieces.Add(before);
            }

            rest = open.Last > solid[i].Last ? open.Within(solid[i].Last + 1L, open.Last) : null;
        }

        if (rest is { } whole)
        {
            pieces.Add(whole);
        }
    }

    /// <summary>The place of the first run that does not end before a frame.</summary>
    private static int FirstEndingFrom(List<FrameRun> runs, int frame)
    {
        int low = 0,
            high = runs.Count;
        while (low < high)
        {
            int middle = (low + high) / 2;
            (low, high) = runs[middle].Last < frame ? (middle + 1, high) : (low, middle);
        }

        return low;
    }

    /// <summary>Feeds a cluster of interleaved steps frame by frame.</summary>
    private static void Interleave(List<FrameRun> runs, int from, int to, FrameRunBuilder builder, ref long told)
    {
        long count = 0;
        for (int i = from; i < to; i++)
        {
            count += runs[i].Count;
        }

        if ((told += count) > FrameSet.MostListed)
        {
            throw TooMany();
        }

        int[] frames = new int[count];
        int next = 0;
        for (int i = from; i < to; i++)
        {
            foreach (int frame in FrameSet.Expand(runs[i]))
            {
                frames[next++] = frame;
            }
        }

        Array.Sort(frames);
        for (int i = 0; i < frames.Length; i++)
        {
            if (i == 0 || frames[i] != frames[i - 1])
            {
                builder.Add(new FrameRun(frames[i], frames[i], 1));
            }
        }
    }

    private static OverflowException TooMany() =>
        new($"Steps that interleave in more than {FrameSet.MostListed:N0} frames are not told apart; look for a digit too many.");
}
