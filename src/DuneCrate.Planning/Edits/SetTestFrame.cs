using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Chooses the test frame, or notes what it came to. A null frame forgets it.</summary>
public sealed record SetTestFrame(int? Frame, double Scale = 1) : PlanEdit
{
    /// <summary>Bytes by output name, once its files came.</summary>
    public OrderedDictionary<string, long>? Bytes { get; init; }

    /// <summary>Packed over raw bytes by "layer/pass".</summary>
    public OrderedDictionary<string, double>? Ratios { get; init; }

    /// <summary>Seconds by layer.</summary>
    public OrderedDictionary<string, double>? Seconds { get; init; }

    /// <summary>Findings that block.</summary>
    public int? Blockers { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description =>
        Frame is null ? "test frame forgotten"
        : Bytes is null ? $"test frame {Frame} chosen"
        : $"test frame {Frame} measured";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        if (Frame is not { } frame)
        {
            return plan with { Shot = plan.Shot with { TestFrame = null } };
        }

        if (Scale is not (> 0 and <= 1))
        {
            throw new PlanEditException("testFrame.scale", "The scale must be above 0 and at most 1; 0.5 is half the width and height.");
        }

        return plan.Shot.Frames.Contains(frame)
            ? plan with
            {
                Shot = plan.Shot with
                {
                    TestFrame = new TestFrame
                    {
                        Frame = frame,
                        Scale = Scale,
                        Bytes = Bytes,
                        Ratios = Ratios,
                        Seconds = Seconds,
                        Blockers = Blockers,
                    },
                },
            }
            : throw new PlanEditException("testFrame.frame", $"Frame {frame} is not in the shot's {plan.Shot.Frames}.");
    }
}
