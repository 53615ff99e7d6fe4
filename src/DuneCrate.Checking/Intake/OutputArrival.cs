using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Intake;

/// <summary>Arrival of one output.</summary>
/// <param name="Output">The output.</param>
/// <param name="Landed">Frames whose file has come and holds still.</param>
/// <param name="Settling">Frames whose file is being written.</param>
/// <param name="Bytes">Bytes of all of them.</param>
/// <param name="Last">When the newest was written, UTC; null without any.</param>
public sealed record OutputArrival(PlannedOutput Output, FrameSet Landed, FrameSet Settling, long Bytes, DateTime? Last);
