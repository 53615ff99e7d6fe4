using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Imaging.Stacking.Looks;

namespace DuneCrate.Imaging.Stacking;

/// <summary>One layer of a composite: a sequence or still, and how it is laid in.</summary>
public sealed record StackStrip
{
    /// <summary>Name for people.</summary>
    public required string Name { get; init; }

    /// <summary>Its files, relative to the folder, with <c>#</c> for digits of the frame; without one a still.</summary>
    public required string Source { get; init; }

    /// <summary>The root that its files lie under, where that is not the stack's folder; or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Root { get; init; }

    /// <summary>Three channels of colour or one that is grey, and behind them the alpha, if there is one.</summary>
    public required string[] Channels { get; init; }

    /// <summary>How colour and alpha go together; none: opaque everywhere.</summary>
    public AlphaMode Alpha { get; init; }

    /// <summary>How it is laid in.</summary>
    public StackOperation Operation { get; init; }

    /// <summary>How much of it, 0 to 1.</summary>
    public double Opacity { get; init; } = 1;

    /// <summary>Stops that its colour is raised by, before everything else.</summary>
    public double Gain { get; init; }

    /// <summary>What weighs it, or null.</summary>
    public StackMask? Mask { get; init; }

    /// <summary>Added to the frame that the source is asked for.</summary>
    public int Offset { get; init; }

    /// <summary>The one frame that stands for all, or null.</summary>
    public int? Hold { get; init; }

    /// <summary>What it does to what lies below instead of being laid in; or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public StripLook? Look { get; init; }

    /// <summary>Frames a second of its files, where they say; or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameRate? FrameRate { get; init; }

    /// <summary>Why it lies where it does, for people; or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Why { get; init; }

    /// <summary>Fields that this version does not know.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }

    /// <summary>The frame of the source at a frame of the composite.</summary>
    public int FrameAt(int frame) => Hold ?? (int)Math.Clamp((long)frame + Offset, int.MinValue, int.MaxValue);
}
