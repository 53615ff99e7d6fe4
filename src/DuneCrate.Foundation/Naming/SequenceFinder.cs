using System.Collections.Immutable;
using System.Globalization;
using System.IO.Hashing;
using System.Runtime.InteropServices;

namespace DuneCrate.Foundation.Naming;

/// <summary>
/// Finds the sequences in a pile of relative paths. Every number in a file name is a candidate for the frame; the one that
/// gathers most files into one sequence wins, the last one in the name on a tie. A number after a <c>v</c> is a version and
/// digits inside the extension are not numbers. A number after the extension (<c>name.exr.0001</c>) is accepted.
/// </summary>
public static class SequenceFinder
{
    /// <summary>A number in a file name, and what stands around it.</summary>
    /// <param name="Path">The name.</param>
    /// <param name="Start">Where the number begins.</param>
    /// <param name="End">Where it has ended.</param>
    /// <param name="Frame">The number.</param>
    /// <param name="Digits">Its digits.</param>
    /// <param name="IsUsualPlace">Whether frame numbers usually stand there.</param>
    public readonly record struct Slot(string Path, int Start, int End, int Frame, int Digits, bool IsUsualPlace)
    {
        /// <summary>What stands before it.</summary>
        public string Prefix => Path[..Start];

        /// <summary>What stands behind it.</summary>
        public string Suffix => Path[End..];
    }

    /// <summary>Two numbers are of one group when what stands before and behind them is the same.</summary>
    private sealed class SamePlace : IEqualityComparer<Slot>
    {
        public bool Equals(Slot a, Slot b) =>
            a.Start == b.Start
            && a.Path.AsSpan(0, a.Start).SequenceEqual(b.Path.AsSpan(0, b.Start))
            && a.Path.AsSpan(a.End).SequenceEqual(b.Path.AsSpan(b.End));

        public int GetHashCode(Slot slot) =>
            (int)
                XxHash3.HashToUInt64(
                    MemoryMarshal.AsBytes(slot.Path.AsSpan(slot.End)),
                    (long)XxHash3.HashToUInt64(MemoryMarshal.AsBytes(slot.Path.AsSpan(0, slot.Start)))
                );
    }

    /// <summary>
    /// Sorts paths into sequences and stills, ordered by name. The order of the input does not matter.
    /// A single file counts as a one-frame sequence only when its number stands
    /// where frame numbers usually do: after a dot, right before the extension or, by a slip, at the end behind it.
    /// </summary>
    public static ImmutableArray<FileSequence> Find(IEnumerable<string> paths)
    {
        // Every number of every name belongs to a group of names that differ in it alone; groups are numbered, so that names are hashed
        // once.
        var numbers = new Dictionary<Slot, int>(new SamePlace());
        var groups = new List<Group>();
        var candidates = new List<(Slot Slot, int Group)>();
        var slots = new List<Slot>();
        var seen = new HashSet<string>(StringComparer.Ordinal);
        var stills = new List<string>();
        foreach (string path in paths)
        {
            if (!seen.Add(path))
            {
                continue;
            }

            slots.Clear();
            FindNumbers(path, slots);
            if (slots.Count == 0)
            {
                stills.Add(path);
            }

            foreach (Slot slot in slots)
            {
                ref int number = ref CollectionsMarshal.GetValueRefOrAddDefault(numbers, slot, out bool isKnown);
                if (!isKnown)
                {
                    number = groups.Count;
                    groups.Add(new Group(slot));
                }

                groups[number].Size++;
                candidates.Add((slot, number));
            }
        }

        for (int i = 0; i < candidates.Count; )
        {
            string path = candidates[i].Slot.Path;
            int best = -1;
            for (; i < candidates.Count && ReferenceEquals(candidates[i].Slot.Path, path); i++)
            {
                int size = groups[candidates[i].Group].Size;
                if ((best < 0 || size >= groups[candidates[best].Group].Size) && (size > 1 || candidates[i].Slot.IsUsualPlace))
                {
                    best = i;
                }
            }

            if (best < 0)
            {
                stills.Add(path);
            }
            else
            {
                (groups[candidates[best].Group].Files ??= []).Add(
                    new SequenceFile(path, candidates[best].Slot.Frame, candidates[best].Slot.Digits)
                );
            }
        }

        return
        [
            .. groups
                .Where(g => g.Files is not null)
                .Select(g => new FileSequence(new FrameName(g.First.Prefix, g.First.Suffix, PaddingOf(g.Files!)), Sorted(g.Files!)))
                .Concat(stills.Select(path => new FileSequence(new FrameName(path, "", 0), [new SequenceFile(path, 0, 0)])))
                .OrderBy(s => s.Name.Prefix, StringComparer.Ordinal)
                .ThenBy(s => s.Name.Suffix, StringComparer.Ordinal),
        ];
    }

    /// <summary>Names that differ in one number alone: how many there are, and those of them whose frame it is.</summary>
    private sealed class Group(Slot first)
    {
        public Slot First => first;

        public int Size { get; set; }

        public List<SequenceFile>? Files { get; set; }
    }

    private static ImmutableArray<SequenceFile> Sorted(List<SequenceFile> files)
    {
        files.Sort((a, b) => a.Frame != b.Frame ? a.Frame.CompareTo(b.Frame) : string.CompareOrdinal(a.Path, b.Path));
        return [.. files];
    }

    /// <summary>The numbers in a file name that may be its frame, from left to right.</summary>
    public static IReadOnlyList<Slot> NumbersIn(string path)
    {
        var slots = new List<Slot>();
        FindNumbers(path, slots);
        return slots;
    }

    private static void FindNumbers(string path, List<Slot> slots)
    {
        int name = path.LastIndexOf('/') + 1;
        int dot = ExtensionDot(path, name);
        for (int i = name; i < path.Length; )
        {
            if (!char.IsAsciiDigit(path[i]))
            {
                i++;
                continue;
            }

            int end = i;
            while (end < path.Length && char.IsAsciiDigit(path[end]))
            {
                end++;
            }

            bool inExtension = i > dot && dot >= 0 && !IsNumberSegment(path, i, end);
            int signed = i > name && path[i - 1] == '-' && (i - 1 == name || path[i - 2] is '.' or '_') ? i - 1 : i;
            if (
                !inExtension
                && !IsVersion(path, name, i)
                && int.TryParse(
                    path.AsSpan(signed, end - signed),
                    NumberStyles.AllowLeadingSign,
                    CultureInfo.InvariantCulture,
                    out int frame
                )
            )
            {
                bool usual = signed > name && path[signed - 1] == '.' && (end == dot || (dot > name && end == path.Length));
                slots.Add(new Slot(path, signed, end, frame, end - i, usual));
            }

            i = end;
        }
    }

    /// <summary>The dot before the extension: the last one whose segment holds a letter; −1 without one.</summary>
    private static int ExtensionDot(string path, int name)
    {
        for (int end = path.Length, dot = path.LastIndexOf('.'); dot > name; end = dot, dot = path.LastIndexOf('.', dot - 1))
        {
            if (path.AsSpan(dot + 1, end - dot - 1).ContainsAnyExceptInRange('0', '9'))
            {
                return dot;
            }
        }

        return -1;
    }

    private static bool IsNumberSegment(string path, int start, int end) =>
        path[start - 1] is '.' or '-' && (end == path.Length || path[end] == '.');

    private static bool IsVersion(string path, int name, int digits) =>
        digits > name && path[digits - 1] is 'v' or 'V' && (digits - 1 == name || !char.IsLetter(path[digits - 2]));

    /// <summary>
    /// The padding that most files keep to: a number wider than its value needs fixes it at that width, one without zeros only from
    /// above. Without any zeros it is the narrowest width found (unpadded numbers 8, 9, 10 have padding 1).
    /// </summary>
    private static int PaddingOf(List<SequenceFile> files)
    {
        int narrowest = files.Min(f => f.Digits);
        return files
            .Select(f => f.Digits)
            .Append(narrowest)
            .Distinct()
            .OrderBy(d => d)
            .MaxBy(padding => files.Count(f => f.Digits == Math.Max(padding, FrameName.DigitsFor(f.Frame))));
    }
}
