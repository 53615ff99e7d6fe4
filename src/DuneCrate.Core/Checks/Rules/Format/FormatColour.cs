using System.Collections.Immutable;
using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// The colour space that a header names, or its chromaticities (x and y of red, green, blue and white), are not the show's. Primaries from
/// Rec. ITU-R BT.709, Rec. ITU-R BT.2020,
/// SMPTE ST 2065-1 and the Academy's S-2014-004 (AP1).
/// </summary>
public sealed class FormatColour : FileRule
{
    public override string Id => "format.colour";

    public override string Title => "Another colour space";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Chromaticities or colour space metadata differ from the show's";

    private const float Tolerance = 2e-3f;

    private static readonly Dictionary<string, float[]> Primaries = new(StringComparer.OrdinalIgnoreCase)
    {
        ["rec709"] = [0.64f, 0.33f, 0.30f, 0.60f, 0.15f, 0.06f, 0.3127f, 0.3290f],
        ["rec2020"] = [0.708f, 0.292f, 0.170f, 0.797f, 0.131f, 0.046f, 0.3127f, 0.3290f],
        ["ap0"] = [0.7347f, 0.2653f, 0f, 1f, 0.0001f, -0.077f, 0.32168f, 0.33767f],
        ["ap1"] = [0.713f, 0.293f, 0.165f, 0.830f, 0.128f, 0.044f, 0.32168f, 0.33767f],
    };

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
        if (
            part.ColourSpace is { } named
            && Plain(named) != Plain(space)
            && KeyOf(named) is var key
            && (key is null || key != KeyOf(space))
        )
        {
            return named;
        }

        return part.Chromaticities is { Length: 8 } found && KeyOf(space) is { } wanted && !Near(found, Primaries[wanted])
            ? Primaries.FirstOrDefault(p => Near(found, p.Value)).Key is { } other
                ? $"primaries of {other}"
                : "other primaries"
            : null;
    }

    private static bool Near(ImmutableArray<float> found, float[] wanted) =>
        found.Zip(wanted).All(p => Math.Abs(p.First - p.Second) <= Tolerance);

    private static string Plain(string name) => string.Concat(name.Where(char.IsLetterOrDigit)).ToLowerInvariant();

    private static string? KeyOf(string name) =>
        Plain(name) switch
        {
            var n when n.Contains("709") || n.Contains("srgb") => "rec709",
            var n when n.Contains("2020") => "rec2020",
            var n when n.Contains("acescg") || n.Contains("ap1") => "ap1",
            var n when n.Contains("2065") || n.Contains("ap0") => "ap0",
            _ => null,
        };
}
