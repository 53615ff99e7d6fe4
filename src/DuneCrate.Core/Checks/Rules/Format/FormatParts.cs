using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// Parts or views that change along the sequence, or views where the plan knows of none.
/// </summary>
public sealed class FormatParts : Rule
{
    public override string Id => "format.parts";

    public override string Title => "Parts or views differ";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Parts or views differ from the plan, or change along the sequence";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            if (output.Readable.All(f => f.Facts.Parts is [{ View: null, Views: null }]))
            {
                continue;
            }

            string? usual = output.Readable.GroupBy(f => Text(f.Facts)).MaxBy(g => g.Count())?.Key;
            foreach (
                (string found, FrameSet frames, _) in Group(output.Readable, f => Text(f.Facts) is var text && text != usual ? text : null)
            )
            {
                yield return About(
                    output,
                    frames,
                    usual!,
                    found,
                    $"{(frames.IsStill ? "Frame" : "Frames")} {frames} {(frames.IsStill ? "has" : "have")} {found}; the rest of the sequence has {usual}.",
                    Rerender(output, frames),
                    RemedyKind.Rerender
                );
            }

            if (output.Planned is not null && usual is not null && Views(output.Readable.First().Facts) is { Length: > 0 } views)
            {
                yield return About(
                    output,
                    output.Frames,
                    "one view",
                    views,
                    $"The files hold the views {views}; the plan knows of none.",
                    "Tell the compositor, or render one view a file.",
                    RemedyKind.Look
                );
            }
        }
    }

    private static string Text(FileFacts facts) =>
        facts.Parts.Length == 1 && Views(facts).Length == 0
            ? "1 part"
            : $"{facts.Parts.Length} parts{(Views(facts) is { Length: > 0 } views ? $" and the views {views}" : "")}";

    private static string Views(FileFacts facts) =>
        string.Join(", ", facts.Parts.Select(p => p.View).OfType<string>().Concat(facts.Parts.SelectMany(p => p.Views ?? [])).Distinct());
}
