using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A field of the header (size, aspect, rate, camera, compression, colour) that changes along a sequence. What another rule says of the
/// same frames is not said twice.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FormatDrift : FileRule
{
    public override string Id => "format.drift";

    public override string Title => "The header changes";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A header field changes within one sequence: from which frame";

    private const int MostWindows = 2;

    private static readonly (string Name, Func<PartFacts, string> Text)[] Fields =
    [
        ("display window", p => $"{p.DisplayWindow.Width} × {p.DisplayWindow.Height}"),
        ("data window", p => $"{p.DataWindow.MinX}, {p.DataWindow.MinY} to {p.DataWindow.MaxX}, {p.DataWindow.MaxY}"),
        ("pixel aspect ratio", p => p.PixelAspectRatio.ToString("0.####", CultureInfo.InvariantCulture)),
        ("frame rate", p => p.FrameRate?.ToDisplay() ?? "none"),
        ("camera", p => p.Camera ?? "none"),
        ("compression", p => p.Compression),
        ("colour space", p => p.ColourSpace ?? "none"),
        (
            "chromaticities",
            p => p.Chromaticities is { } c ? string.Join(' ', c.Select(v => v.ToString("0.####", CultureInfo.InvariantCulture))) : "none"
        ),
    ];

    private static bool AreAlike(PartFacts one, PartFacts other) =>
        ReferenceEquals(one, other)
        || (
            one.DisplayWindow == other.DisplayWindow
            && one.DataWindow == other.DataWindow
            && one.PixelAspectRatio == other.PixelAspectRatio
            && one.FrameRate == other.FrameRate
            && one.Camera == other.Camera
            && one.Compression == other.Compression
            && one.ColourSpace == other.ColourSpace
            && (
                one.Chromaticities is null
                    ? other.Chromaticities is null
                    : other.Chromaticities is { } theirs && one.Chromaticities.Value.AsSpan().SequenceEqual(theirs.AsSpan())
            )
        );

    public override bool IsSymptom => true;

    /// <summary>Only what another rule says of the header: odd pixels do not change it.</summary>
    public override bool IsExplainedBy(Finding cause) => cause.Rule.StartsWith(Id[..(Id.IndexOf('.') + 1)], StringComparison.Ordinal);

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            CheckedFile[] files = [.. output.Readable.Where(f => !f.Facts.Parts.IsEmpty)];
            if (Array.TrueForAll(files, f => AreAlike(f.Facts.Parts[0], files[0].Facts.Parts[0])))
            {
                continue;
            }

            FrameSet resized = FrameSet.Empty;
            foreach ((string name, Func<PartFacts, string> text) in Fields)
            {
                if (files.Length < 2 || files.All(f => text(f.Facts.Parts[0]) == text(files[0].Facts.Parts[0])))
                {
                    continue;
                }

                var values = files
                    .GroupBy(f => text(f.Facts.Parts[0]))
                    .OrderByDescending(g => g.Count())
                    .ThenBy(g => g.First().Frame)
                    .ToArray();
                if (name == "data window" && values.Length > MostWindows)
                {
                    continue; // Renderers that write the smallest window change it from frame to frame.
                }

                FrameSet frames = FrameSet.From(values.Skip(1).SelectMany(g => g.Select(f => f.Frame)));
                if (name == "data window" && frames.Except(resized).IsEmpty)
                {
                    continue; // It goes with the display window.
                }

                resized = name == "display window" ? frames : resized;
                yield return About(
                    output,
                    frames,
                    $"{name} {values[0].Key}",
                    values[1].Key,
                    $"The {name} {(name == "chromaticities" ? "change" : "changes")} from {values[0].Key} to {values[1].Key} "
                        + $"at frame {frames.First}.",
                    $"Find out which is right. {Rerender(output, frames)}",
                    RemedyKind.Rerender
                );
            }
        }
    }
}
