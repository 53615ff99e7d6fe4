using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Parts or views that change along the sequence, or views where the plan knows of none.
/// </summary>
/// <remarks>Source: OpenEXR, Multi-part and deep files.</remarks>
public sealed class FormatParts : FileRule
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

            Structure? usual = output.Readable.GroupBy(f => Structure.From(f.Facts)).MaxBy(g => g.Count())?.Key;
            foreach (
                (Structure found, FrameSet frames, _) in Group(
                    output.Readable,
                    f => Structure.From(f.Facts) is var own && own != usual ? own : (Structure?)null
                )
            )
            {
                yield return About(
                    output,
                    frames,
                    $"{usual}",
                    $"{found}",
                    $"{Subject(frames, "has", "have")} {found}; the rest of the sequence has {usual}.",
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

    private readonly record struct Structure(int Parts, string Views)
    {
        public static Structure From(FileFacts facts) => new(facts.Parts.Length, FormatParts.Views(facts));

        public override string ToString() =>
            Views.Length == 0 ? Words.Count(Parts, "part") : $"{Words.Count(Parts, "part")} and the views {Views}";
    }

    private static string Views(FileFacts facts) =>
        string.Join(", ", facts.Parts.Select(p => p.View).OfType<string>().Concat(facts.Parts.SelectMany(p => p.Views ?? [])).Distinct());
}
