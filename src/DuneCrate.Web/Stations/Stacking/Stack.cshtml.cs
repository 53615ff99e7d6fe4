using System.Collections.Immutable;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Pictures;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>The Stack station: the light passes summed back to the beauty, with the plan's terms or with others to try.</summary>
public sealed class StackModel(ShotViews views, PictureService pictures) : ShotPage(views)
{
    private const int MostFrames = 120,
        FramesAtOnce = 2;

    private readonly ShotViews _views = views;

    /// <inheritdoc/>
    public override string Station => "Stack";

    /// <summary>The layer whose sum is seen; null without one.</summary>
    public LayerPlan? Planned => View.Seen.Layers.FirstOrDefault(l => l.Name == View.Selected.Layer);

    /// <summary>What is being tried.</summary>
    public RebuildTry Tried => field ??= RebuildQuery.Read(Request.Query);

    /// <summary>The terms that are seen.</summary>
    public ImmutableArray<RebuildTerm> Terms => Planned is null ? [] : Tried.TermsIn(Planned);

    /// <summary>Sums that the layer's passes allow.</summary>
    public ImmutableArray<(string Name, ImmutableArray<RebuildTerm> Terms)> Families =>
        Planned is null ? [] : RebuildSum.Families(View.Plan.Catalogue, Planned);

    /// <summary>Beauty, sum and residual at the frame; null when a file has not come.</summary>
    public RebuildPixels? Rebuilt { get; private set; }

    /// <summary>What is wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Residuals along the range.</summary>
    public ResidualStrip Strip { get; private set; } = new([], 0);

    /// <summary>What the strip shows, in words.</summary>
    public string StripSays { get; private set; } = "measured when every pixel is checked";

    /// <summary>Whether what the check found of the files is still being read again, after a start of the application.</summary>
    public bool IsReading { get; private set; }

    /// <summary>Frames of the layer that are off.</summary>
    public FrameSet Off => View.Unsummed(View.Selected.Layer);

    /// <summary>Whether the sum that is seen is off at the frame.</summary>
    public bool IsOff => Rebuilt is { Facts: { } facts } && RebuildResidual.IsOff(facts, Limits.Mean, Limits.Off);

    /// <summary>From which mean residual and share of pixels on it is a warning.</summary>
    public (double Mean, double Off) Limits => RuleBook.Residual.LimitsOf(View.Plan.Show);

    /// <summary>Whether another sum than the plan's is seen.</summary>
    public bool IsTried => Tried.Query.Length > 0;

    /// <summary>Address of this page with another sum.</summary>
    public string With(RebuildTry tried) => View.Href("stack") + tried.Query;

    /// <summary>Address of a picture of the rebuild.</summary>
    public string Picture(string what, int width) =>
        $"/{View.Row.Show.Code}/{View.Row.Code}/rebuild.png?layer={Uri.EscapeDataString(View.Selected.Layer ?? "")}"
        + $"&frame={View.Selected.Frame}&what={what}&width={width}{Tried.Query}";

    /// <summary>Address of the picture of a pass at the frame.</summary>
    public string PictureOf(string pass, int width) =>
        $"/{View.Row.Show.Code}/{View.Row.Code}/picture.png?layer={Uri.EscapeDataString(View.Selected.Layer ?? "")}"
        + $"&pass={Uri.EscapeDataString(pass)}&frame={View.Selected.Frame}&width={width}";

    /// <summary>Look at a pixel of a pass, as near as its samples are told.</summary>
    public string LookAt(string pass, int x, int y) =>
        View.Href("look", View.Selected with { Pass = pass }) + $"&zoom=16&cx={x}.5&cy={y}.5";

    /// <summary>Shows the station.</summary>
    public async Task OnGetAsync(CancellationToken cancel)
    {
        if (View.Selected is not { Layer: { } layer, Frame: { } frame } || View.Folder is null || Planned is null || Terms.IsEmpty)
        {
            return;
        }

        Said = Tried.Problem(Planned);
        try
        {
            Rebuilt = await pictures.RebuildAsync(View, layer, frame, Tried, cancel);
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException or PicturesBusyException)
        {
            Said = e is ImageException image ? $"The frame cannot be summed: {image.Reason}." : e.Message;
        }

        LoadStrip();
    }

    /// <summary>The residuals of the plan's sum along the range, once the check's results have been read again.</summary>
    public IActionResult OnGetStrip()
    {
        LoadStrip();
        return Partial("_Residuals", this);
    }

    /// <summary>The residuals of what is tried; of a long range every so many frames.</summary>
    public async Task<IActionResult> OnGetRangeAsync(CancellationToken cancel)
    {
        long step = (View.Range.LongCount + MostFrames - 1) / MostFrames;
        var measured = new List<(int, RebuildFacts)>();
        foreach (int[] some in View.Range.Where((_, i) => i % step == 0).Chunk(FramesAtOnce))
        {
            RebuildFacts?[] facts = await Task.WhenAll(some.Select(f => FactsAsync(f, cancel)));
            measured.AddRange(some.Zip(facts).Where(p => p.Second is not null).Select(p => (p.First, p.Second!)));
        }

        Strip = ResidualStrip.From(View.Range, measured, Limits);
        StripSays = step > 1 ? $"these terms, every {step}th frame" : "these terms";
        return Partial("_Residuals", this);
    }

    /// <summary>The numbers of a frame; null where a file has not come or cannot be read, which has its finding.</summary>
    private async Task<RebuildFacts?> FactsAsync(int frame, CancellationToken cancel)
    {
        try
        {
            return (await pictures.RebuildAsync(View, View.Selected.Layer ?? "", frame, Tried, cancel))?.Facts;
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException or PicturesBusyException)
        {
            return null;
        }
    }

    /// <summary>What the check measured of the plan's sum.</summary>
    private void LoadStrip()
    {
        CheckContext? context = View.HasPixels ? _views.ContextOf(View) : null;
        IsReading = View.HasPixels && context is null;
        if (context?.Outputs.FirstOrDefault(l => l.Layer == View.Selected.Layer && l.Planned?.HasBeauty == true) is not { } lead)
        {
            StripSays = IsReading ? "reading the check’s results again…" : StripSays;
            return;
        }

        Strip = ResidualStrip.From(
            View.Range,
            lead.Files.Select(f => (f.Frame, Facts: context.Rebuild(lead, f))).Where(f => f.Facts is not null)!,
            Limits
        );
        StripSays = "the plan’s sum, as the check measured it";
    }
}
