using System.Collections;
using System.Collections.Immutable;
using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using System.Text;
using System.Text.Json.Serialization;

namespace DuneCrate.Foundation.Frames;

/// <summary>
/// An ordered, immutable set of frame numbers, kept as runs with a step, so that a range of a million frames costs no more
/// than one frame. Written as <c>1001-1010,1015,1020-1040x2</c>: both ends of a run belong to it, frames may be negative
/// (<c>-5--1</c>), runs are comma-separated and ascending.
/// </summary>
/// <remarks>
/// Two sets are equal when they hold the same frames; there is one canonical list of runs for every set. A stepped run is
/// written only from three frames on. The default and empty value is <see cref="Empty"/>, written as an empty text.
/// Operations work on runs and cost what the runs cost, but where steps interleave: then frames are told one by one, at most
/// <see cref="MostListed"/> of them.
/// Safe to share between threads.
/// </remarks>
[JsonConverter(typeof(FrameSetJsonConverter))]
public sealed class FrameSet : IEquatable<FrameSet>, IReadOnlyCollection<int>
{
    /// <summary>The set without frames.</summary>
    public static readonly FrameSet Empty = new([]);

    /// <summary>Frames of interleaved steps that are told one by one at most; sets beyond it are refused.</summary>
    public const int MostListed = 1 << 22;

    private static FrameSet OfRuns(List<FrameRun> runs) =>
        FrameRuns.Canonical(runs) is { IsEmpty: false } canonical ? new FrameSet(canonical) : Empty;

    private FrameSet(ImmutableArray<FrameRun> runs)
    {
        Runs = runs;
        foreach (FrameRun run in runs)
        {
            LongCount += run.Count;
        }
    }

    /// <summary>The canonical runs, ascending, neither overlapping nor interleaved.</summary>
    public ImmutableArray<FrameRun> Runs { get; }

    /// <summary>Number of frames.</summary>
    public long LongCount { get; }

    /// <summary>Number of frames.</summary>
    /// <exception cref="OverflowException">The set holds more than <see cref="int.MaxValue"/> frames.</exception>
    public int Count => checked((int)LongCount);

    /// <summary>Whether the set holds no frame.</summary>
    public bool IsEmpty => Runs.IsEmpty;

    /// <summary>The lowest frame.</summary>
    /// <exception cref="InvalidOperationException">The set is empty.</exception>
    public int First => IsEmpty ? throw new InvalidOperationException("An empty frame set has no first frame.") : Runs[0].First;

    /// <summary>The highest frame.</summary>
    /// <exception cref="InvalidOperationException">The set is empty.</exception>
    public int Last => IsEmpty ? throw new InvalidOperationException("An empty frame set has no last frame.") : Runs[^1].Last;

    /// <summary>Whether the set holds exactly one frame.</summary>
    public bool IsStill => LongCount == 1;

    /// <summary>One frame.</summary>
    public static FrameSet Single(int frame) => new([new FrameRun(frame, frame, 1)]);

    /// <summary>The same frames, each with a number added.</summary>
    /// <exception cref="OverflowException">A frame would be no 32-bit number.</exception>
    public FrameSet Shifted(int by) =>
        by == 0 || IsEmpty
            ? this
            : new FrameSet([.. Runs.Select(r => r with { First = checked(r.First + by), Last = checked(r.Last + by) })]);

    /// <summary>Every <paramref name="step"/>-th frame from <paramref name="first"/> up to at most <paramref name="last"/>.</summary>
    /// <exception cref="ArgumentOutOfRangeException">The range is reversed or the step is below 1.</exception>
    public static FrameSet Range(int first, int last, long step = 1)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(last, first);
        ArgumentOutOfRangeException.ThrowIfLessThan(step, 1);
        var builder = new FrameRunBuilder();
        int end = (int)(first + ((long)last - first) / step * step);
        builder.Add(new FrameRun(first, end, end == first ? 1 : step));
        return new FrameSet(builder.ToRuns());
    }

    /// <summary>The set of the given frames, in any order, repeats ignored.</summary>
    public static FrameSet From(IEnumerable<int> frames)
    {
        int[] sorted = [.. frames];
        Array.Sort(sorted);
        var builder = new FrameRunBuilder();
        for (int i = 0; i < sorted.Length; i++)
        {
            if (i == 0 || sorted[i] != sorted[i - 1])
            {
                builder.Add(new FrameRun(sorted[i], sorted[i], 1));
            }
        }

        return new FrameSet(builder.ToRuns());
    }

    /// <summary>Reads the text form.</summary>
    /// <exception cref="FormatException">The text is not a frame set; the message says what is wrong with it.</exception>
    public static FrameSet Parse(string text) =>
        TryParse(text, out FrameSet? set, out string? problem) ? set : throw new FormatException(problem);

    /// <summary>Reads the text form, or says in <paramref name="problem"/> what is wrong with it. An empty text is the empty set.</summary>
    public static bool TryParse(string? text, [NotNullWhen(true)] out FrameSet? set, [NotNullWhen(false)] out string? problem)
    {
        set = null;
        var runs = new List<FrameRun>();
        foreach (string piece in (text ?? "").Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            if (!TryParseRun(piece, out FrameRun run, out problem))
            {
                return false;
            }

            runs.Add(run);
        }

        try
        {
            set = OfRuns(runs);
            problem = null;
            return true;
        }
        catch (OverflowException e)
        {
            problem = e.Message;
            return false;
        }
    }

    private static bool TryParseRun(string piece, out FrameRun run, [NotNullWhen(false)] out string? problem)
    {
        run = default;
        ReadOnlySpan<char> rest = piece;
        int step = 1;
        int times = rest.IndexOf('x');
        if (times >= 0)
        {
            if (!int.TryParse(rest[(times + 1)..], NumberStyles.None, CultureInfo.InvariantCulture, out step) || step < 1)
            {
                problem = $"'{piece}': the step after x must be a whole number from 1 up.";
                return false;
            }

            rest = rest[..times];
        }

        int dash = rest.Length > 1 ? rest[1..].IndexOf('-') + 1 : 0;
        ReadOnlySpan<char> from = dash > 0 ? rest[..dash] : rest,
            to = dash > 0 ? rest[(dash + 1)..] : rest;
        if (
            !int.TryParse(from, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int first)
            || !int.TryParse(to, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int last)
        )
        {
            problem = $"'{piece}' is not a frame or a range of frames; write 1001, 1001-1048 or 1001-1048x2.";
            return false;
        }

        if (last < first)
        {
            problem = $"'{piece}' runs backwards; write {last}-{first}.";
            return false;
        }

        long end = first + ((long)last - first) / step * step;
        run = new FrameRun(first, (int)end, end == first ? 1 : step);
        problem = null;
        return true;
    }

    /// <summary>Whether the set holds <paramref name="frame"/>. Logarithmic in the number of runs.</summary>
    public bool Contains(int frame)
    {
        int low = 0,
            high = Runs.Length - 1;
        while (low <= high)
        {
            int middle = (low + high) / 2;
            if (frame < Runs[middle].First)
            {
                high = middle - 1;
            }
            else if (frame > Runs[middle].Last)
            {
                low = middle + 1;
            }
            else
            {
                return Runs[middle].Contains(frame);
            }
        }

        return false;
    }

    /// <summary>The frame of the set that is nearest to <paramref name="frame"/>; of two equally near ones the lower.</summary>
    /// <exception cref="InvalidOperationException">The set is empty.</exception>
    public int Nearest(int frame)
    {
        long best = First;
        foreach (FrameRun run in Runs)
        {
            long low = Math.Clamp(frame, run.First, run.Last);
            low = run.First + (low - run.First) / run.Step * run.Step;
            long high = Math.Min(low + run.Step, run.Last);
            foreach (long candidate in (ReadOnlySpan<long>)[low, high])
            {
                if (Math.Abs(candidate - frame) < Math.Abs(best - frame))
                {
                    best = candidate;
                }
            }
        }

        return (int)best;
    }

    /// <summary>The frames of either set.</summary>
    /// <exception cref="OverflowException">Their steps interleave in too many frames.</exception>
    public FrameSet Union(FrameSet other) =>
        IsEmpty ? other
        : other.IsEmpty ? this
        : OfRuns([.. Runs, .. other.Runs]);

    /// <summary>The frames of both sets.</summary>
    public FrameSet Intersect(FrameSet other)
    {
        var found = new List<FrameRun>();
        for (int i = 0, j = 0; i < Runs.Length && j < other.Runs.Length; )
        {
            FrameRun a = Runs[i],
                b = other.Runs[j];
            if (a.Last >= b.First && b.Last >= a.First && a.Shared(b) is { } shared)
            {
                found.Add(shared);
            }

            if (a.Last <= b.Last)
            {
                i++;
            }
            else
            {
                j++;
            }
        }

        return OfRuns(found);
    }

    /// <summary>The frames of any of the sets: for many sets at once, quicker than one after the other.</summary>
    /// <exception cref="OverflowException">Their steps interleave in too many frames.</exception>
    public static FrameSet UnionOf(IEnumerable<FrameSet> sets)
    {
        FrameSet[] some = [.. sets.Where(s => !s.IsEmpty)];
        return some.Length switch
        {
            0 => Empty,
            1 => some[0],
            _ => OfRuns([.. some.SelectMany(s => s.Runs)]),
        };
    }

    /// <summary>The frames of this set that the other one lacks.</summary>
    /// <exception cref="OverflowException">What is left interleaves in too many frames.</exception>
    public FrameSet Except(FrameSet other)
    {
        if (IsEmpty || other.IsEmpty)
        {
            return this;
        }

        var left = new List<FrameRun>();
        int first = 0;
        foreach (FrameRun run in Runs)
        {
            // Runs of a set neither overlap nor interleave: each one taken leaves pieces before it that are done, and at most one behind
            // it.
            FrameRun? rest = run;
            while (first < other.Runs.Length && other.Runs[first].Last < run.First)
            {
                first++;
            }

            for (int i = first; rest is { } open && i < other.Runs.Length && other.Runs[i].First <= run.Last; i++)
            {
                rest = FrameRuns.Subtract(open, other.Runs[i], left);
            }

            if (rest is { } whole)
            {
                left.Add(whole);
            }
        }

        return OfRuns(left);
    }

    internal static IEnumerable<int> Expand(FrameRun run)
    {
        for (long frame = run.First; frame <= run.Last; frame += run.Step)
        {
            yield return (int)frame;
        }
    }

    /// <summary>The frames, ascending.</summary>
    public IEnumerator<int> GetEnumerator() => Runs.SelectMany(Expand).GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    /// <inheritdoc/>
    public bool Equals(FrameSet? other) => other is not null && Runs.AsSpan().SequenceEqual(other.Runs.AsSpan());

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as FrameSet);

    /// <inheritdoc/>
    public override int GetHashCode() => IsEmpty ? 0 : HashCode.Combine(Runs.Length, First, Last, LongCount);

    /// <summary>The text form, such as <c>1001-1010,1015,1020-1040x2</c>.</summary>
    public override string ToString()
    {
        var text = new StringBuilder();
        foreach (FrameRun run in Runs)
        {
            text.Append(text.Length > 0 ? "," : "").Append(CultureInfo.InvariantCulture, $"{run.First}");
            if (run.Last != run.First)
            {
                text.Append(CultureInfo.InvariantCulture, $"-{run.Last}");
                if (run.Step != 1)
                {
                    text.Append(CultureInfo.InvariantCulture, $"x{run.Step}");
                }
            }
        }

        return text.ToString();
    }
}
