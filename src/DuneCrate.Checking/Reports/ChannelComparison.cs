using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Reports;

/// <summary>A channel of an output, planned against found.</summary>
/// <param name="Pass">Key of its pass.</param>
/// <param name="Channel">Its name; those of a pass that is as planned stand together.</param>
/// <param name="Planned">The type that is planned.</param>
/// <param name="Found">The types that were found, or missing.</param>
/// <param name="State">Good, wrong where types differ, missing where it is absent.</param>
/// <param name="Frames">The frames that differ.</param>
public sealed record ChannelComparison(string Pass, string Channel, string Planned, string Found, FrameState State, FrameSet Frames)
{
    private const string Missing = "missing";

    /// <summary>The channels of an output, pass by pass, in the plan's order.</summary>
    /// <param name="output">The output.</param>
    /// <param name="files">Its files that open.</param>
    public static ImmutableArray<ChannelComparison> Compute(PlannedOutput output, FileFacts[] files) =>
        [.. output.Passes.SelectMany(p => Folded(p, [.. p.Channels.Select(c => Compare(output, p, c.Key, c.Value, files))]))];

    /// <summary>The channels of a pass as one when all are as planned and of one type.</summary>
    private static IEnumerable<ChannelComparison> Folded(PassPlan pass, ChannelComparison[] channels) =>
        channels.Length > 1 && channels.All(l => l.Frames.IsEmpty && l.Planned == channels[0].Planned)
            ? [channels[0] with { Channel = string.Join(" ", pass.Channels.Keys) }]
            : channels;

    private static ChannelComparison Compare(PlannedOutput output, PassPlan pass, string channel, ChannelType planned, FileFacts[] files)
    {
        var odd = new Dictionary<int, string>();
        foreach (FileFacts file in files)
        {
            string found = file.FindChannel(channel) is { } there ? there.Type.Name() : Missing;
            if (found != planned.Name() && output.Name.Match(file.Path) is { } at)
            {
                odd[at.Frame] = found;
            }
        }

        string[] types = [.. odd.Values.Distinct()];
        return new ChannelComparison(
            pass.Pass,
            channel,
            planned.Name(),
            odd.Count == 0 ? planned.Name()
                : odd.Count == files.Length && types.Length == 1 ? types[0]
                : string.Join(", ", types.Prepend(planned.Name())),
            types.Contains(Missing) ? FrameState.Missing
                : types.Length > 0 ? FrameState.Wrong
                : FrameState.Good,
            FrameSet.From(odd.Keys)
        );
    }
}
