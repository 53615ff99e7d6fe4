using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Alpha is 1 all over the frame where the plan wants a cut-out; 0 all over is a blocker.
/// </summary>
/// <remarks>Source: Porter and Duff (1984).</remarks>
public sealed class AlphaSolid : PixelRule
{
    public override string Id => "alpha.solid";

    public override string Title => "Alpha cuts nothing out";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Alpha 1 everywhere where a cut-out is planned; 0 everywhere";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned?.Layer.Alpha is AlphaMode.Premultiplied or AlphaMode.Straight
        from pass in output.Passes
        from channel in pass.Channels
        where ChannelNames.IsAlpha(channel.Name) && pass.Definition?.Kind == PassKind.Combined
        from odd in Group(
            output.Files,
            f =>
                f.Find(channel.Name)?.Samples is { Nan: 0, Inf: 0 } s && s.Min == s.Max && (s.Min == 1 || (s.Min == 0 && !IsBlack(pass, f)))
                    ? (int?)s.Min
                    : null
        )
        select About(
            output,
            odd.Frames,
            "a cut-out",
            $"{odd.Verdict} everywhere",
            $"{channel.Name} is {odd.Verdict} everywhere in {At(odd.Frames)}; {output.Layer} is planned as a cut-out.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender,
            pass.Name
        ) with
        {
            Severity = odd.Verdict == 0 ? Severity.Blocker : Severity,
        };
}
