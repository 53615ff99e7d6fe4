using System.Collections.Immutable;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Checks.Rules;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;
using DuneCrate.Core.Pictures;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Rebuild;
using DuneCrate.Web.Stations.Looking;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>The Stack station: the light passes summed back to the beauty, with the plan's terms or with others to try.</summary>
public sealed class StackModel(ShotViews views, PictureService pictures) : ShotPage(views)
{
    private readonly ShotViews _views = views;

    /// <inheritdoc/>
    public override string Station => "Stack";

    /// <summary>The layer whose sum is seen; null without one.</summary>
    public LayerPlan? Planned => View.Seen.Layers.FirstOrDefault(l => l.Name == View.Selected.Layer);

    /// <summary>What is being tried.</summary>
    public RebuildTry Tried => field ??= RebuildTry.Read(Request.Query);

    /// <summary>The terms that are seen.</summary>
    public ImmutableArray<RebuildTerm> Terms => Planned is null ? [] : Tried.TermsIn(Planned);

    /// <summary>Sums that the layer's passes allow.</summary>
    public ImmutableArray<(string Name, ImmutableArray<RebuildTerm> Terms)> Families =>
        Planned is null ? [] : RebuildSum.Families(View.Plan.Catalogue, Planned);

    /// <summary>Beauty, sum and residual at the frame; null when a file has not come.</summary>
    public RebuildPixels? Rebuilt { get; private set; }

    /// <summary>What is wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>The residual of the planned sum along the range, as the check measured it.</summary>
    public ImmutableArray<(int Frame, RebuildFacts Facts)> Along { get; private set; } = [];

    /// <summary>Whether what the check found of the files is still being read again, after a start of the application.</summary>
    public bool IsReading { get; private set; }

    /// <summary>Frames of the layer that are off.</summary>
    public FrameSet Off => View.Unsummed(View.Selected.Layer);

    /// <summary>Whether the sum that is seen is off at the frame.</summary>
    public bool IsOff => Rebuilt is { Facts: { } facts } && RebuildResidual.IsOff(facts, MeanLimit, OffLimit);

    /// <summary>From which mean residual on it is a warning.</summary>
    public double MeanLimit => RuleBook.Residual.LimitsOf(View.Plan.Show).Mean;

    /// <summary>From which share of pixels on it is a warning.</summary>
    public double OffLimit => RuleBook.Residual.LimitsOf(View.Plan.Show).Off;

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

    /// <summary>What a term is multiplied by.</summary>
    public double WeightOf(int term) => term < Tried.Weights.Length ? Tried.Weights[term] : 1;

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

        CheckContext? context = View.HasPixels ? _views.ContextOf(View) : null;
        IsReading = View.HasPixels && context is null;
        if (context is not null)
        {
            CheckedOutput? lead = context.Outputs.FirstOrDefault(l => l.Layer == layer && l.Planned?.HasBeauty == true);
            Along =
            [
                .. from file in lead?.Files ?? []
                let facts = context.Rebuild(lead!, file)
                where facts is not null
                orderby file.Frame
                select (file.Frame, facts),
            ];
        }
    }
}
