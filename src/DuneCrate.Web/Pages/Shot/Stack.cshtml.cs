using DuneCrate.Core.Checks.Rules;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;
using DuneCrate.Core.Stacking;
using DuneCrate.Web.Pictures;
using DuneCrate.Web.Shots;

namespace DuneCrate.Web.Pages.Shot;

/// <summary>The Stack station: the light passes summed back to the beauty.</summary>
public sealed class StackModel(ShotDesk desk, PictureStore pictures) : ShotPage(desk)
{
    /// <inheritdoc/>
    public override string Station => "Stack";

    /// <summary>The numbers at the selected frame, or null when a file has not come.</summary>
    public RebuildFacts? Facts { get; private set; }

    /// <summary>Why nothing could be summed, or null.</summary>
    public string? Problem { get; private set; }

    /// <summary>Frames of the layer that are off.</summary>
    public FrameSet Off => View.Unsummed(View.Selected.Layer);

    /// <summary>Whether the selected frame is off.</summary>
    public bool IsOff => Facts is { } facts && RebuildResidual.IsOff(facts, MeanLimit, OffLimit);

    /// <summary>From which mean residual on it is a warning.</summary>
    public double MeanLimit => RebuildResidual.LimitsOf(View.Plan.Show).Mean;

    /// <summary>From which share of pixels on it is a warning.</summary>
    public double OffLimit => RebuildResidual.LimitsOf(View.Plan.Show).Off;

    /// <summary>Shows the station.</summary>
    public void OnGet()
    {
        try
        {
            Facts = View.Selected is { Layer: { } layer, Frame: { } frame } ? pictures.Rebuild(View, layer, frame)?.Facts : null;
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            Problem = $"Frame {View.Selected.Frame} cannot be summed: {(e is ImageException image ? image.Reason : e.Message)}.";
        }
    }
}
