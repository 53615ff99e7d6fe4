using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Rules;

/// <summary>A channel that the plan does not hold and that stands in for none it does.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class ChannelsExtra : FileRule, IReplans
{
    public override string Id => "channels.extra";

    public override string Title => "Channel not planned";

    public override Severity Severity => Severity.Note;

    public override string Question => "A channel that is not planned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.IsExpected
        from odd in GroupByChannels(output, f => Extra(output, f))
        select About(
            output,
            odd.Frames,
            output.Planned is null ? "the channels of most frames" : "planned channels only",
            odd.Verdict.ToString(),
            output.Planned is null
                ? $"{odd.Verdict} {Words.Are(odd.Verdict.Count)} in {At(odd.Frames)} and not in most frames."
                : $"{odd.Verdict} came and {Words.Are(odd.Verdict.Count)} not planned.",
            "Plan it if it is wanted; otherwise it only costs room.",
            RemedyKind.Replan
        );

    private static NameList? Extra(CheckedOutput output, FileFacts facts)
    {
        var standIns = output
            .Passes.SelectMany(p =>
                p.Channels.Where(c => facts.FindChannel(c.Name) is null).Select(c => ChannelMatch.Alias(output, p, c.Name, facts))
            )
            .ToHashSet();
        return NameList.From(
            facts
                .Channels.Select(c => c.Name)
                .Where(c => !IsSpare(output, c) && !ChannelMatch.IsPlanned(output, c) && !standIns.Contains(c))
        );
    }

    /// <summary>
    /// Whether a channel is there for its format's sake: an alpha, or the other two colours where one of three that are alike is the pass.
    /// </summary>
    private static bool IsSpare(CheckedOutput output, string channel) =>
        channel == "A"
        || (channel is "R" or "G" or "B" && output.Planned?.Held is { Channels.Length: 1 } && !ChannelMatch.IsPlanned(output, channel));

    /// <summary>Plans the channels: each in its pass, a file per pass in the pass that it holds.</summary>
    public Replan? Replan(ReplanCase at)
    {
        PassCatalogue catalogue = at.Output.Catalogue;
        ChannelFacts[] channels =
        [
            .. (at.Came?.Channels ?? [])
                .Where(c => !ChannelMatch.IsPlanned(at.Output, c.Name) && c.Name != "A")
                .OrderBy(c => PlaceOf(c.Name, catalogue)),
        ];
        return channels.Length == 0
            ? null
            : at.WithOutput(
                output =>
                    channels
                        .GroupBy(c => at.Planned.Output.IsPerPass ? at.Planned.Passes[0].Pass : PlanGuess.PassOf(c.Name, catalogue))
                        .Aggregate(output, WithChannels),
                $"{string.Join(" ", channels.Select(c => c.Name))} planned in {at.Output.Key}"
            );
    }

    private static OutputPlan WithChannels(OutputPlan output, IGrouping<string, ChannelFacts> added)
    {
        int index = output.Passes.ToList().FindIndex(p => p.Pass == added.Key);
        PassPlan pass = index >= 0 ? output.Passes[index] : new PassPlan { Pass = added.Key };
        pass = pass with
        {
            Off = false,
            Channels = new OrderedDictionary<string, ChannelType>(
                pass.Channels.Concat(added.Select(c => KeyValuePair.Create(c.Name, c.Type)))
            ),
        };
        return output with { Passes = index >= 0 ? output.Passes.SetItem(index, pass) : output.Passes.Add(pass) };
    }

    /// <summary>Where the catalogue has a channel among those of its pass: red before green before blue.</summary>
    private static int PlaceOf(string channel, PassCatalogue catalogue) =>
        catalogue.Find(PlanGuess.PassOf(channel, catalogue))?.Channels.IndexOf(ChannelNames.LastOf(channel)) is >= 0 and int place
            ? place
            : int.MaxValue;
}
