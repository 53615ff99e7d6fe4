using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Frames of another version than the plan's stand where one output is expected: a v003 between v002s.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class NamesVersion : FileRule
{
    public override string Id => "names.version";

    public override string Title => "Versions are mixed";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Versions mixed in one output";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        context
            .Strays.Where(s => s.Kind == StrayKind.Version)
            .Select(s =>
                AboutStray(
                    s,
                    s.Sequence.Name.ToString(),
                    $"{s.Sequence.Name} is another version of {s.Nearest!.Key}: {Fills(context, s)}.",
                    RemedyKind.Look
                ) with
                {
                    Remedy = "Take one version: render the frames again, change the plan's version, or rename files that fill a gap.",
                }
            );

    /// <summary>"it would fill frame 1004", or the frames that are there in both versions.</summary>
    private static string Fills(CheckContext context, StraySequence stray)
    {
        FrameSet gaps = stray.Sequence.Frames.Except(context.OutputOf(stray).Frames);
        return gaps.IsEmpty ? At(stray.Sequence.Frames) : $"it would fill {At(gaps)}";
    }
}
