using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Checks.Rules;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Rebuild;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>The Stack station: the light passes summed back to the beauty.</summary>
public sealed class StackModel(ShotViews views) : ShotPage(views)
{
    private readonly ShotViews _views = views;

    /// <inheritdoc/>
    public override string Station => "Stack";

    /// <summary>Address of the picture of a pass at the frame.</summary>
    public string PictureOf(string pass) =>
        $"/{View.Row.Show.Code}/{View.Row.Code}/picture.png?layer={View.Selected.Layer}&pass={Uri.EscapeDataString(pass)}"
        + $"&frame={View.Selected.Frame}";

    /// <summary>The numbers at the selected frame, or null when a file has not come.</summary>
    public RebuildFacts? Facts { get; private set; }

    /// <summary>Frames of the layer that are off.</summary>
    public FrameSet Off => View.Unsummed(View.Selected.Layer);

    /// <summary>Whether the selected frame is off.</summary>
    public bool IsOff => Facts is { } facts && RebuildResidual.IsOff(facts, MeanLimit, OffLimit);

    /// <summary>From which mean residual on it is a warning.</summary>
    public double MeanLimit => RuleBook.Residual.LimitsOf(View.Plan.Show).Mean;

    /// <summary>From which share of pixels on it is a warning.</summary>
    public double OffLimit => RuleBook.Residual.LimitsOf(View.Plan.Show).Off;

    /// <summary>Whether what the check found of the files is still being read again, after a start of the application.</summary>
    public bool IsReading { get; private set; }

    /// <summary>Shows the station, from what the check of every pixel found.</summary>
    public void OnGet()
    {
        if (View is not { HasPixels: true, Selected: { Layer: { } layer, Frame: { } frame } } || View.Folder is null)
        {
            return;
        }

        if (_views.ContextOf(View) is not { } context)
        {
            IsReading = true;
            return;
        }

        CheckedOutput? checkedOutput = context.Outputs.FirstOrDefault(l => l.Layer == layer && l.Planned?.HasBeauty == true);
        Facts = checkedOutput
            ?.Files.Where(f => f.Frame == frame)
            .Select(f => context.Rebuild(checkedOutput, f))
            .FirstOrDefault(f => f is not null);
    }
}
