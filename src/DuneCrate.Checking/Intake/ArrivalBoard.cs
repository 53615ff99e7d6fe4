using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Imaging.Listing;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// What has come of a plan, from names, sizes and times alone: no file is opened. A file that changed within
/// <see cref="IntakeRun.Settling"/>, or is too small for a
/// picture, is still being written and left alone.
/// </summary>
public static class ArrivalBoard
{
    private const int Newest = 20;
    private const double StalledAfterGaps = 6;

    /// <summary>A layer is not called stalled sooner than this after its newest file.</summary>
    public static readonly TimeSpan LeastStall = TimeSpan.FromSeconds(60);

    /// <summary>After this without a file nothing is expected any more: a render that stands still is looked after sooner.</summary>
    public static readonly TimeSpan Expected = TimeSpan.FromHours(24);

    /// <summary>One entry per layer that is rendered, in the plan's order.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="files">The files of the folder.</param>
    /// <param name="now">The present, UTC.</param>
    public static ImmutableArray<LayerArrival> From(Plan plan, IReadOnlyCollection<IntakeFile> files, DateTime now)
    {
        var claims = new Dictionary<(string, string), List<(int Frame, IntakeFile File)>>();
        foreach (IntakeFile file in files)
        {
            foreach (SequenceFinder.Slot slot in SequenceFinder.NumbersIn(file.Path))
            {
                (claims.TryGetValue((slot.Prefix, slot.Suffix), out var known) ? known : claims[(slot.Prefix, slot.Suffix)] = []).Add(
                    (slot.Frame, file)
                );
            }
        }

        ILookup<string, IntakeFile> stills = files.ToLookup(f => f.Path);
        return
        [
            .. PlannedOutput
                .From(plan)
                .GroupBy(o => o.Layer.Name)
                .Select(layer =>
                    Layer(
                        layer.Key,
                        [
                            .. layer.Select(o =>
                                (
                                    o,
                                    Files: o.Name.Padding == 0
                                        ? [.. stills[o.Name.Prefix].Select(f => (o.Frames.IsEmpty ? 0 : o.Frames.First, f))]
                                    : claims.TryGetValue((o.Name.Prefix, o.Name.Suffix), out var own)
                                        ? own.Where(f => o.Frames.Contains(f.Frame)).ToArray()
                                    : []
                                )
                            ),
                        ],
                        now
                    )
                ),
        ];
    }

    private static LayerArrival Layer(string name, (PlannedOutput Output, (int Frame, IntakeFile File)[] Files)[] outputs, DateTime now)
    {
        var arrivals = ImmutableArray.CreateBuilder<OutputArrival>();
        var times = new List<DateTime>();
        foreach ((PlannedOutput output, (int Frame, IntakeFile File)[] files) in outputs)
        {
            bool Settles(IntakeFile file) => now - file.Modified < IntakeRun.Settling || file.Bytes < FactsReader.TinyBytes;
            FrameSet settling = FrameSet.From(files.Where(f => Settles(f.File)).Select(f => f.Frame));
            FrameSet landed = FrameSet.From(files.Where(f => !Settles(f.File)).Select(f => f.Frame)).Except(settling);
            arrivals.Add(
                new OutputArrival(
                    output,
                    landed,
                    settling,
                    files.Sum(f => f.File.Bytes),
                    files.Length == 0 ? null : files.Max(f => f.File.Modified)
                )
            );
            times.AddRange(files.Select(f => f.File.Modified));
        }

        long count = arrivals.Sum(a => a.Landed.LongCount),
            planned = outputs.Sum(o => o.Output.Frames.LongCount);
        DateTime[] newest = [.. times.OrderDescending().Take(Newest)];
        double minutes = newest.Length > 1 ? (newest[0] - newest[^1]).TotalMinutes : 0,
            rate = minutes > 0 ? (newest.Length - 1) / minutes : 0;
        TimeSpan patience =
            rate > 0 && TimeSpan.FromMinutes(StalledAfterGaps * outputs.Length / rate) is var gap && gap > LeastStall ? gap : LeastStall;
        ArrivalState state =
            count >= planned && planned > 0 ? ArrivalState.Complete
            : newest.Length == 0 ? ArrivalState.Waiting
            : now - newest[0] > Expected ? ArrivalState.Partial
            : now - newest[0] > patience ? ArrivalState.Stalled
            : ArrivalState.Arriving;
        return new LayerArrival(
            name,
            arrivals.ToImmutable(),
            count,
            planned,
            rate,
            state == ArrivalState.Arriving && rate > 0 ? TimeSpan.FromMinutes((planned - count) / rate) : null,
            state
        );
    }
}
