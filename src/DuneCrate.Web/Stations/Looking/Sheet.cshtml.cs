using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Rules;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>All passes at one frame, or one pass along the range, as small pictures with the marks of their findings.</summary>
public sealed class SheetModel(ShotViews views) : ShotPage(views)
{
    private const int MostFrames = 96,
        UsualWidth = 220,
        LeastWidth = 80,
        MostWidth = 640;

    /// <inheritdoc/>
    public override string Station => "Look";

    /// <summary>passes or frames.</summary>
    [BindProperty(SupportsGet = true)]
    public string Of { get; set; } = "passes";

    /// <summary>Pixels across of a picture.</summary>
    [BindProperty(SupportsGet = true)]
    public int Width { get; set; } = UsualWidth;

    /// <summary>The exposure that the pictures are shown with, in stops.</summary>
    [BindProperty(SupportsGet = true)]
    public double Exposure { get; set; }

    /// <summary>Whether it goes along the range.</summary>
    public bool IsAlongFrames => Of == "frames";

    /// <summary>Pixels across of a picture, within reason.</summary>
    public int Wide => Math.Clamp(Width, LeastWidth, MostWidth);

    /// <summary>How many frames stand between two pictures; 1 for every frame.</summary>
    public long Step => IsAlongFrames ? Math.Max(1, (View.Range.LongCount + MostFrames - 1) / MostFrames) : 1;

    /// <summary>The pictures.</summary>
    public ImmutableArray<SheetPicture> Pictures => field.IsDefault ? field = Make() : field;

    /// <summary>What the sheet is called when it is saved.</summary>
    public string Name => IsAlongFrames ? $"{View.Selected.Layer}_{View.Selected.Pass}" : $"{View.Selected.Frame}";

    /// <summary>Address of this page with something else.</summary>
    public string HrefOf(string of, int width) =>
        $"{View.Href("look/sheet")}&of={of}&width={width}{(Exposure == 0 ? "" : FormattableString.Invariant($"&exposure={Exposure}"))}";

    private ImmutableArray<SheetPicture> Make()
    {
        if (!IsAlongFrames)
        {
            return
            [
                .. View
                    .Seen.Layers.Where(l => !l.Off)
                    .SelectMany(l => l.Passes.Select(p => One(l.Name, p.Pass, View.Selected.Frame, p.Pass))),
            ];
        }

        return View.Selected is { Layer: { } layer, Pass: { } pass }
            ? [.. View.Range.Where((_, i) => i % Step == 0).Select(f => One(layer, pass, f, $"{f}"))]
            : [];
    }

    private SheetPicture One(string layer, string pass, int? frame, string label)
    {
        int at = frame ?? View.Range.First;
        PlannedOutput? output = View.Outputs.FirstOrDefault(o => o.Layer.Name == layer && o.Passes.Any(p => p.Pass == pass));
        Finding[] findings =
        [
            .. (View.Report?.Findings ?? []).Where(f =>
                f.Output == output?.Key && (f.Pass is null || f.Pass == pass) && f.Waived is null && f.Frames.Contains(at)
            ),
        ];
        Finding? worst = findings.MinBy(f => f.Severity);
        bool isPlanned = output?.Frames.Contains(at) == true;
        return new SheetPicture(
            label,
            IsAlongFrames ? "" : layer,
            PictureOf(layer, pass, at),
            View.Href("look", View.Selected with { Layer = layer, Pass = pass, Frame = at }),
            worst is not null ? Marks.For(worst)
                : View.Report is null || !isPlanned ? Marks.Pending
                : Marks.Good,
            worst is null ? "" : (RuleBook.TitleOf(worst.Rule)) + More(findings.Length - 1)
        );
    }

    private string PictureOf(string layer, string pass, int frame) =>
        $"/{View.Row.Show.Code}/{View.Row.Code}/picture.png?layer={Uri.EscapeDataString(layer)}&pass={Uri.EscapeDataString(pass)}"
        + FormattableString.Invariant($"&frame={frame}&width={Wide}&exposure={Exposure}");

    private static string More(int others) => others > 0 ? $" and {others} more" : "";
}
