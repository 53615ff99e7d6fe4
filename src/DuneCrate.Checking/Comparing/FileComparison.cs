using DuneCrate.Checking.Intake;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Checking.Comparing;

/// <summary>
/// Compares the samples of two pictures channel by channel, line by line. Samples of 8 and 16 bits stand for 0..1, as they are stored.
/// </summary>
public static class FileComparison
{
    /// <summary>Where a channel lies in a file.</summary>
    private readonly record struct Home(int Part, string Stored, ChannelType Type);

    /// <summary>Compares two files.</summary>
    /// <param name="a">The one.</param>
    /// <param name="b">The other.</param>
    /// <param name="tolerance">What counts as equal.</param>
    /// <param name="limits">Bounds on what they may claim.</param>
    /// <param name="cancel">Stops.</param>
    /// <param name="names">
    /// By channel of the one: its name in the other. Only these are compared then, where both have all of them; null for all by their
    /// names.
    /// </param>
    public static FileDifference Compare(
        IntakeFile a,
        IntakeFile b,
        double tolerance,
        ReadLimits limits,
        CancellationToken cancel,
        IReadOnlyDictionary<string, string>? names = null
    )
    {
        var notes = new List<string>();
        FileFacts one = Header(a, limits, cancel),
            other = Header(b, limits, cancel);
        foreach (FileFacts facts in new[] { one, other }.Where(f => !f.Readable))
        {
            notes.Add($"{facts.Path} cannot be read: {facts.Problem}");
        }

        if (notes.Count > 0)
        {
            return new FileDifference(a.Path, b.Path, false, [], [.. notes]);
        }

        Dictionary<string, Home> inA = Homes(one),
            inB = Homes(other);
        if (names is not null && names.All(n => inA.ContainsKey(n.Key) && inB.ContainsKey(n.Value)))
        {
            (inA, inB) = (names.ToDictionary(n => n.Key, n => inA[n.Key]), names.ToDictionary(n => n.Key, n => inB[n.Value]));
        }

        bool isEqual = true;
        foreach (
            (string[] lacking, string path) in new[]
            {
                (inA.Keys.Except(inB.Keys).ToArray(), a.Path),
                (inB.Keys.Except(inA.Keys).ToArray(), b.Path),
            }
        )
        {
            if (lacking.Length > 0)
            {
                notes.Add($"only in {path}: {string.Join(" ", lacking.Order(StringComparer.Ordinal))}");
                isEqual = false;
            }
        }

        string[] shared = [.. inA.Keys.Where(inB.ContainsKey).Order(StringComparer.Ordinal)];
        foreach (string channel in shared.Where(c => inA[c].Type != inB[c].Type))
        {
            notes.Add($"{channel} is {inA[channel].Type.Name()} in {a.Path} and {inB[channel].Type.Name()} in {b.Path}");
        }

        var found = new List<ChannelDifference>();
        foreach (var group in shared.GroupBy(c => (A: inA[c].Part, B: inB[c].Part)))
        {
            NoteWindows(one.Parts[group.Key.A], other.Parts[group.Key.B], a.Path, b.Path, notes);
            try
            {
                found.AddRange(
                    Channels(
                        (a, group.Key.A),
                        (b, group.Key.B),
                        [.. group.Select(c => (c, inA[c].Stored, inB[c].Stored))],
                        tolerance,
                        limits,
                        notes,
                        cancel
                    )
                );
            }
            catch (ImageException e)
            {
                notes.Add($"{e.Message}");
                isEqual = false;
            }
        }

        isEqual &=
            found.TrueForAll(c => c.Off == 0)
            && found.Count == shared.Length
            && !notes.Exists(n => n.Contains("are lost", StringComparison.Ordinal));
        return new FileDifference(a.Path, b.Path, isEqual, [.. found.OrderBy(c => c.Name, StringComparer.Ordinal)], [.. notes]);
    }

    private static FileFacts Header(IntakeFile file, ReadLimits limits, CancellationToken cancel) =>
        FactsReader.Read(file, new FactsRequest(FactsDepth.Header), limits, cancel);

    /// <summary>The channels by name; those whose name stands in several parts with their part's name or number before it.</summary>
    private static Dictionary<string, Home> Homes(FileFacts facts)
    {
        var all = facts.Parts.SelectMany(p => p.Channels.Select(c => (Part: p, Channel: c))).ToLookup(c => c.Channel.Name);
        return all.SelectMany(same =>
                same.Select(c =>
                    (
                        Name: same.Count() == 1 ? same.Key : $"{c.Part.Name ?? $"part {c.Part.Index}"}.{same.Key}",
                        Home: new Home(c.Part.Index, same.Key, c.Channel.Type)
                    )
                )
            )
            .DistinctBy(c => c.Name)
            .ToDictionary(c => c.Name, c => c.Home);
    }

    private static void NoteWindows(PartFacts a, PartFacts b, string pathA, string pathB, List<string> notes)
    {
        foreach (
            (string what, PixelBox one, PixelBox other) in new[]
            {
                ("display window", a.DisplayWindow, b.DisplayWindow),
                ("data window", a.DataWindow, b.DataWindow),
            }
        )
        {
            string note = $"the {what} is {Text(one)} in {pathA} and {Text(other)} in {pathB}";
            if (one != other && !notes.Contains(note))
            {
                notes.Add(note);
            }
        }
    }

    private static string Text(PixelBox box) => $"{box.MinX}, {box.MinY} to {box.MaxX}, {box.MaxY}";

    private static ChannelDifference[] Channels(
        (IntakeFile File, int Part) a,
        (IntakeFile File, int Part) b,
        (string Name, string InA, string InB)[] channels,
        double tolerance,
        ReadLimits limits,
        List<string> notes,
        CancellationToken cancel
    )
    {
        using PictureLines linesA = PictureLines.Open(a.File.Place, a.File.Format, [.. channels.Select(c => c.InA)], limits, part: a.Part);
        using PictureLines linesB = PictureLines.Open(b.File.Place, b.File.Format, [.. channels.Select(c => c.InB)], limits, part: b.Part);
        PixelBox one = linesA.Window,
            other = linesB.Window;
        var union = new PixelBox(
            Math.Min(one.MinX, other.MinX),
            Math.Min(one.MinY, other.MinY),
            Math.Max(one.MaxX, other.MaxX),
            Math.Max(one.MaxY, other.MaxY)
        );
        int width = checked((int)union.Width);
        using IDisposable held = limits.Memory.Take(
            linesA.ReadingBytes + linesB.ReadingBytes + 4L * sizeof(float) * width * channels.Length,
            cancel
        );
        var sides = new[] { new Side(linesA, union), new Side(linesB, union) };
        ChannelMeter[] meters = [.. channels.Select(c => new ChannelMeter(c.Name, tolerance))];
        for (int y = union.MinY; y <= union.MaxY; y++)
        {
            foreach (Side side in sides)
            {
                side.Read(y, cancel);
            }

            for (int c = 0; c < meters.Length; c++)
            {
                meters[c].Add(sides[0].Lines[c], sides[1].Lines[c], union.MinX, y);
            }
        }

        foreach ((PictureLines lines, IntakeFile file) in new[] { (linesA, a.File), (linesB, b.File) })
        {
            if (lines.Problem is { } lost)
            {
                notes.Add($"{file.Path}: {lost}");
            }
        }

        return [.. meters.Select(m => m.Finish())];
    }

    /// <summary>The lines of one picture on the union of both windows.</summary>
    private sealed class Side(PictureLines lines, PixelBox union)
    {
        private readonly float[][] _own = [.. lines.Channels.Select(_ => new float[lines.Window.Width])];

        public float[][] Lines { get; } = [.. lines.Channels.Select(_ => new float[union.Width])];

        public void Read(int y, CancellationToken cancel)
        {
            bool isThere = y >= lines.Window.MinY && y <= lines.Window.MaxY;
            if (isThere)
            {
                lines.Read(y, _own, cancel);
            }

            for (int c = 0; c < _own.Length; c++)
            {
                Span<float> to = Lines[c].AsSpan(lines.Window.MinX - union.MinX, _own[c].Length);
                if (isThere)
                {
                    _own[c].CopyTo(to);
                }
                else
                {
                    to.Clear();
                }
            }
        }
    }
}
