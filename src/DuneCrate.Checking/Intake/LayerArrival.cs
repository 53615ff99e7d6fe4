using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Intake;

/// <summary>Arrival of one layer.</summary>
/// <param name="Layer">Its name.</param>
/// <param name="Outputs">Its outputs.</param>
/// <param name="Landed">Planned files that have come and hold still.</param>
/// <param name="Planned">Planned files.</param>
/// <param name="PerMinute">Files a minute over the newest twenty; 0 when nothing can be said.</param>
/// <param name="Left">Time left at that rate, or null.</param>
/// <param name="State">How it stands.</param>
public sealed record LayerArrival(
    string Layer,
    ImmutableArray<OutputArrival> Outputs,
    long Landed,
    long Planned,
    double PerMinute,
    TimeSpan? Left,
    ArrivalState State
)
{
    /// <summary>The first frame of which every output has landed, or null.</summary>
    public int? FirstWhole =>
        Outputs.Select(o => o.Landed).Aggregate((FrameSet?)null, (all, l) => all is null ? l : all.Intersect(l)) is { IsEmpty: false } whole
            ? whole.First
            : null;
}
