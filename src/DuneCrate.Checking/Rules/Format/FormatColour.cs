using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging.Colour;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// The colour space that a header names, or its chromaticities (x and y of red, green, blue and white), are not the show's.
/// </summary>
/// <remarks>Source: OpenEXR standard attributes, chromaticities; ITU-R BT.709.</remarks>
public sealed class FormatColour : FileRule
{
    public override string Id => "format.colour";

    public override string Title => "Another colour space";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Chromaticities or colour space metadata differ from the show's";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        context.Plan?.Show.ColourSpace is not { Length: > 0 } space
            ? []
            : from output in context.Outputs
            where output.Passes.Any(p => p.Definition?.IsColour == true)
            from odd in Group(output.Readable, f => f.Facts.Parts.Select(p => Other(p, space)).FirstOrDefault(o => o is not null))
            select About(
                output,
                odd.Frames,
                space,
                odd.Verdict,
                $"{Subject(odd.Frames, "says", "say")} {odd.Verdict} in the header; the show is in {space}.",
                "Find out which one is right before anything is graded.",
                RemedyKind.Look
            );

    private static string? Other(PartFacts part, string space)
    {
        Primaries? wanted = Primaries.OfSpace(space);
        if (
            part.ColourSpace is { } named
            && Primaries.Plain(named) != Primaries.Plain(space)
            && Primaries.OfSpace(named) is var known
            && (known is null || known != wanted)
        )
        {
            return named;
        }

        return wanted is not null && Primaries.From(part.Chromaticities) is { } found && !wanted.IsNear(found.Chromaticities)
            ? found.Key.Length > 0
                ? $"primaries of {found.Name}"
                : found.Name
            : null;
    }
}
