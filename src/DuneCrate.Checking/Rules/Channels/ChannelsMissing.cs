using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>A planned channel is absent. Alpha has a rule of its own.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class ChannelsMissing : FileRule, IReplans
{
    public override string Id => "channels.missing";

    public override string Title => "Channel is missing";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A planned channel is absent: in which frames";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.IsExpected
        from pass in output.Passes
        from odd in GroupByChannels(output, f => Absent(output, pass, f))
        select About(
            output,
            odd.Frames,
            string.Join(" ", pass.Channels.Select(c => c.Name)),
            $"without {odd.Verdict}",
            $"{odd.Verdict} of {pass.Name} {Words.Are(odd.Verdict.Count)} missing in {At(odd.Frames)}.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender,
            pass.Name
        );

    private static NameList? Absent(CheckedOutput output, CheckedPass pass, FileFacts facts) =>
        NameList.From(
            pass.Channels.Select(c => c.Name)
                .Where(c =>
                    !(ChannelNames.IsAlpha(c) && pass.Definition?.Kind == PassKind.Combined)
                    && facts.FindChannel(c) is null
                    && ChannelMatch.Alias(output, pass, c, facts) is null
                )
        );

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) => at.WithoutAbsentChannels(c => !ChannelNames.IsAlpha(c));
}
