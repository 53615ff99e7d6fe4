using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Planning.Model;

/// <summary>What holds for the whole shot.</summary>
public sealed record ShotPlan
{
    /// <summary>Short code, used in paths.</summary>
    public required string Code { get; init; }

    /// <summary>Frames that layers without their own range have.</summary>
    public required FrameSet Frames { get; init; }

    /// <summary>Frame rate.</summary>
    public FrameRate FrameRate { get; init; } = new(24, 1);

    /// <summary>Display window width in pixels.</summary>
    public int Width { get; init; }

    /// <summary>Display window height in pixels.</summary>
    public int Height { get; init; }

    /// <summary>Overscan: pixels that are rendered beyond the display window on every side.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int Overscan { get; init; }

    /// <summary>The data window that files with windows are to have: the display window and the overscan around it.</summary>
    [JsonIgnore]
    public PixelBox DataWindow => PixelBox.OfSize(Width, Height).Grown(Overscan);

    /// <summary>Width of a pixel over its height.</summary>
    public double PixelAspectRatio { get; init; } = 1;

    /// <summary>Render camera; empty when the plan names none.</summary>
    public string Camera { get; init; } = "";

    /// <summary>Version token, such as v001; null when names carry none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Version { get; init; }

    /// <summary>The frame that is tried first, and what it came to; null when none is chosen.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public TestFrame? TestFrame { get; init; }

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}
