using System.Globalization;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Sets fields of the shot, as they are typed; those that are null stay as they are.</summary>
public sealed record SetShot : PlanEdit
{
    /// <summary>Frame set.</summary>
    public string? Frames { get; init; }

    /// <summary>Frame rate.</summary>
    public string? Rate { get; init; }

    /// <summary>Width in pixels.</summary>
    public string? Width { get; init; }

    /// <summary>Height in pixels.</summary>
    public string? Height { get; init; }

    /// <summary>Pixels beyond the picture on every side; empty for none.</summary>
    public string? Overscan { get; init; }

    /// <summary>Width of a pixel over its height.</summary>
    public string? Aspect { get; init; }

    /// <summary>Render camera.</summary>
    public string? Camera { get; init; }

    /// <summary>Version token; empty for none.</summary>
    public string? Version { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => "shot settings changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        ShotPlan shot = plan.Shot;
        FrameSet? frames = null;
        if (Frames is not null && !FrameSet.TryParse(Frames, out frames, out string? noFrames))
        {
            throw new PlanEditException("shot.frames", noFrames);
        }

        if (frames is not null && PlanValidation.FramesProblem(frames) is { } problem)
        {
            throw new PlanEditException("shot.frames", problem);
        }

        FrameRate rate = shot.FrameRate;
        if (Rate is not null && !FrameRate.TryParse(Rate, out rate, out string? noRate))
        {
            throw new PlanEditException("shot.frameRate", noRate);
        }

        return plan with
        {
            Shot = shot with
            {
                Frames = frames ?? shot.Frames,
                FrameRate = rate,
                Width = Side(Width, shot.Width, "width"),
                Height = Side(Height, shot.Height, "height"),
                Overscan = OverscanOf(shot),
                PixelAspectRatio = AspectOf(shot),
                Camera = Camera?.Trim() ?? shot.Camera,
                Version = VersionOf(plan),
            },
        };
    }

    private int OverscanOf(ShotPlan shot) =>
        Overscan is null ? shot.Overscan
        : Overscan.Trim() is not { Length: > 0 } text ? 0
        : int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int pixels) && pixels <= PlanLimits.MaxOverscan ? pixels
        : throw new PlanEditException("shot.overscan", PlanValidation.OverscanBounds);

    private double AspectOf(ShotPlan shot) =>
        Aspect is null ? shot.PixelAspectRatio
        : double.TryParse(Aspect, NumberStyles.Float, CultureInfo.InvariantCulture, out double ratio) && ratio is >= 0.01 and <= 100 ? ratio
        : throw new PlanEditException("shot.pixelAspectRatio", "The pixel aspect ratio must be 0.01 to 100; 1 is square.");

    private string? VersionOf(Plan plan) =>
        Version is null ? plan.Shot.Version
        : Version.Trim() is not { Length: > 0 } token ? null
        : VersionStyle.Problem(plan.Show.VersionStyle, token) is { } problem ? throw new PlanEditException("shot.version", problem)
        : token;

    private static int Side(string? text, int now, string side) =>
        text is null ? now
        : int.TryParse(text.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out int pixels)
        && pixels is >= 1 and <= PlanLimits.MaxSide
            ? pixels
        : throw new PlanEditException($"shot.{side}", $"The {side} must be 1 to {PlanLimits.MaxSide} pixels.");
}
