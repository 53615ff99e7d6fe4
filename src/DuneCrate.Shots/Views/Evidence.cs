using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Rules;

namespace DuneCrate.Shots.Views;

/// <summary>A picture that shows what a finding means.</summary>
/// <param name="Source">Address of the picture.</param>
/// <param name="Description">What it shows.</param>
public sealed record Evidence(string Source, string Description)
{
    /// <summary>Pixels around the one in question.</summary>
    public const int Width = 64,
        Height = 36;

    /// <summary>The pictures for a finding; none for one that no pixel shows.</summary>
    public static IReadOnlyList<Evidence> For(ShotView view, Finding finding)
    {
        EvidenceKind kind = RuleBook.Find(finding.Rule)?.Evidence ?? EvidenceKind.None;
        if (kind == EvidenceKind.None || finding.Frames.IsEmpty || finding.Layer is null || view.For(finding) is not { Pass: { } pass })
        {
            return [];
        }

        int frame = finding.Frames.First;
        string at = $"/{view.Row.Show.Code}/{view.Row.Code}/";
        string Query(int f) =>
            string.Create(
                CultureInfo.InvariantCulture,
                $"?layer={Uri.EscapeDataString(finding.Layer)}&pass={Uri.EscapeDataString(pass)}&frame={f}"
            );
        if (kind == EvidenceKind.Residual)
        {
            return [new Evidence($"{at}rebuild.png{Query(frame)}&what=residual&width=280", $"What the sum lacks of the beauty at {frame}")];
        }

        if (finding.At is [int x, int y])
        {
            return
            [
                new Evidence(
                    string.Create(CultureInfo.InvariantCulture, $"{at}evidence.png{Query(frame)}&x={x}&y={y}"),
                    $"{Width} × {Height} pixels around {x}, {y} at {frame}"
                ),
            ];
        }

        Evidence now = new($"{at}picture.png{Query(frame)}&width=280", $"{pass} at {frame}");
        return kind == EvidenceKind.Pair && frame > view.Range.First
            ? [new Evidence($"{at}picture.png{Query(frame - 1)}&width=280", $"{pass} at {frame - 1}"), now]
            : [now];
    }
}
