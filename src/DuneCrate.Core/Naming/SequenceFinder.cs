using System.Collections.Immutable;
using System.Globalization;

namespace DuneCrate.Core.Naming;

/// <summary>
/// Finds the sequences in a pile of relative paths. Every number in a file name is a candidate for the frame; the one that
/// gathers most files into one sequence wins, the last one in the name on a tie. A number after a <c>v</c> is a version and
/// digits inside the extension are not numbers. A number after the extension (<c>name.exr.0001</c>) is accepted.
/// </summary>
public static class SequenceFinder
{
    /// <summary>A number in a file name, and what stands around it.</summary>
    internal readonly record struct Slot(string Prefix, string Suffix, int Frame, int Digits, bool IsUsualPlace);

    /// <summary>
    /// Sorts paths into sequences and stills, ordered by name. The order of the input does not matter.
    /// A single file counts as a one-frame sequence only when its number stands
    /// where frame numbers usually do: after a dot, right before the extension or, by a slip, at the end behind it.
    /// </summary>
    public static ImmutableArray<FileSequence> Find(IEnumerable<string> paths)
    {
        var slots = new Dictionary<string, List<Slot>>(StringComparer.Ordinal);
        var sizes = new Dictionary<(string, string), int>();
        foreach (string path in paths)
        {
            if (slots.TryAdd(path, NumbersIn(path)))
            {
                foreach (Slot slot in slots[path])
                {
                    sizes[(slot.Prefix, slot.Suffix)] = sizes.GetValueOrDefault((slot.Prefix, slot.Suffix)) + 1;
                }
            }
        }

        var groups = new Dictionary<(string, string), List<SequenceFile>>();
        var stills = new List<string>();
        foreach ((string path, List<Slot> candidates) in slots)
        {
            Slot? best = null;
            int most = 0;
            foreach (Slot slot in candidates)
            {
                int size = sizes[(slot.Prefix, slot.Suffix)];
                if (size >= most && (size > 1 || slot.IsUsualPlace))
                {
                    (best, most) = (slot, size);
                }
            }

            if (best is not { } taken)
            {
                stills.Add(path);
                continue;
            }

            if (!groups.TryGetValue((taken.Prefix, taken.Suffix), out List<SequenceFile>? files))
            {
                groups[(taken.Prefix, taken.Suffix)] = files = [];
            }

            files.Add(new SequenceFile(path, taken.Frame, taken.Digits));
        }

        return
        [
            .. groups.Select(g => new FileSequence(new FrameName(g.Key.Item1, g.Key.Item2, PaddingOf(g.Value)), [.. g.Value.OrderBy(f => f.Frame).ThenBy(f => f.Path, StringComparer.Ordinal)]))
                .Concat(stills.Select(path => new FileSequence(new FrameName(path, "", 0), [new SequenceFile(path, 0, 0)])))
                .OrderBy(s => s.Name.Prefix, StringComparer.Ordinal).ThenBy(s => s.Name.Suffix, StringComparer.Ordinal),
        ];
    }

    /// <summary>The numbers in a file name that may be its frame, from left to right.</summary>
    internal static List<Slot> NumbersIn(string path)
    {
        var slots = new List<Slot>();
        int name = path.LastIndexOf('/') + 1;
        int dot = ExtensionDot(path, name);
        for (int i = name; i < path.Length;)
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
            if (!inExtension && !IsVersion(path, name, i) && int.TryParse(path.AsSpan(signed, end - signed), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int frame))
            {
                bool usual = signed > name && path[signed - 1] == '.' && (end == dot || (dot > name && end == path.Length));
                slots.Add(new Slot(path[..signed], path[end..], frame, end - i, usual));
            }

            i = end;
        }

        return slots;
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

    private static bool IsNumberSegment(string path, int start, int end) => path[start - 1] is '.' or '-' && (end == path.Length || path[end] == '.');

    private static bool IsVersion(string path, int name, int digits) =>
        digits > name && path[digits - 1] is 'v' or 'V' && (digits - 1 == name || !char.IsLetter(path[digits - 2]));

    /// <summary>
    /// The padding that most files keep to: a number wider than its value needs fixes it at that width, one without zeros only from
    /// above. Without any zeros it is the narrowest width found (unpadded numbers 8, 9, 10 have padding 1).
    /// </summary>
    private static int PaddingOf(List<SequenceFile> files)
    {
        int narrowest = files.Min(f => f.Digits);
        return files.Select(f => f.Digits).Append(narrowest).Distinct().OrderBy(d => d)
            .MaxBy(padding => files.Count(f => f.Digits == Math.Max(padding, FrameName.DigitsFor(f.Frame))));
    }
}
