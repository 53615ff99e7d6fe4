using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;

namespace DuneCrate.Crates;

/// <summary>Files of one name that stay out for one reason.</summary>
/// <param name="Name">The name with its place for the frame.</param>
/// <param name="Frames">Their frames; empty for a file without a number.</param>
/// <param name="Files">How many.</param>
/// <param name="Bytes">Size of all.</param>
/// <param name="Why">The reason.</param>
public sealed record LeftOutRun(FrameName Name, FrameSet Frames, int Files, long Bytes, string Why)
{
    /// <summary>The files as runs, by name.</summary>
    public static ImmutableArray<LeftOutRun> From(IEnumerable<LeftOut> files)
    {
        Dictionary<string, LeftOut> byPath = files.DistinctBy(f => f.Path).ToDictionary(f => f.Path);
        return
        [
            .. SequenceFinder
                .Find(byPath.Keys)
                .SelectMany(s =>
                    s.Files.GroupBy(f => byPath[f.Path].Why)
                        .Select(g => new LeftOutRun(
                            s.Name,
                            s.HasNoFrameNumber ? FrameSet.Empty : FrameSet.From(g.Select(f => f.Frame)),
                            g.Count(),
                            g.Sum(f => byPath[f.Path].Bytes),
                            g.Key
                        ))
                ),
        ];
    }
}
