using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>The header names a camera and it is not the plan's.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FormatCamera : FileRule, IReplans
{
    public override string Id => "format.camera";

    public override string Title => "Wrong camera";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A camera name in the header that is not the plan's";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is { Shot.Camera.Length: > 0 }
        let planned = output.Planned!.Shot.Camera
        from odd in Group(output.Readable, f => Other(f.Facts, planned))
        select About(
            output,
            odd.Frames,
            planned,
            odd.Verdict,
            $"{Subject(odd.Frames, "was", "were")} rendered through {odd.Verdict}; the shot's camera is {planned}.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender
        );

    private static string? Other(FileFacts facts, string planned) =>
        facts.Parts.Select(p => p.Camera).FirstOrDefault(c => c is { Length: > 0 } && c != planned);

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) =>
        at.FirstPart?.Camera is { } camera ? at.WithShot(s => s with { Camera = camera }, $"the camera is {camera}") : null;
}
