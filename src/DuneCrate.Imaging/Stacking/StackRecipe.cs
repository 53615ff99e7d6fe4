using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Stacking.Looks;

namespace DuneCrate.Imaging.Stacking;

/// <summary>A test composite: strips from the bottom, over transparent black. The document <c>dune-crate.stack/1</c>.</summary>
public sealed record StackRecipe
{
    /// <summary>Name of the document's schema.</summary>
    public const string SchemaName = "dune-crate.stack/1";

    private const int MostSide = 65_536,
        MostStrips = 1_000;
    private const double MostStops = 64;

    /// <summary>The schema.</summary>
    public required string Schema { get; init; }

    /// <summary>Width in pixels.</summary>
    public required int Width { get; init; }

    /// <summary>Height in pixels.</summary>
    public required int Height { get; init; }

    /// <summary>Frames a second; null when it is not said.</summary>
    public FrameRate? FrameRate { get; init; }

    /// <summary>The frames; null when they are said elsewhere.</summary>
    public FrameSet? Frames { get; init; }

    /// <summary>The strips, from the bottom.</summary>
    public required StackStrip[] Strips { get; init; }

    /// <summary>Fields that this version does not know.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, StackJson.Ahead.Of<StackRecipe>()) + "\n";

    /// <summary>Reads a recipe.</summary>
    /// <exception cref="FormatException">It is no recipe, or says what cannot be done; the message says what and where.</exception>
    public static StackRecipe Read(string json)
    {
        try
        {
            var recipe = DocumentJson.Read<StackRecipe>(json, StackJson.Ahead);
            return recipe.Problem is { } wrong ? throw new FormatException($"The stack cannot be used: {wrong}.") : recipe;
        }
        catch (DocumentException e)
        {
            throw new FormatException($"The stack cannot be read. {DocumentJson.Problem(e)}", e);
        }
    }

    /// <summary>What cannot be done of it, for people; or null.</summary>
    [JsonIgnore]
    public string? Problem =>
        Schema != SchemaName ? $"its schema is '{Schema}', not {SchemaName}"
        : Width is < 1 or > MostSide || Height is < 1 or > MostSide ? $"width and height go from 1 to {MostSide}"
        : Strips.Length is 0 or > MostStrips ? $"it needs 1 to {MostStrips} strips"
        : Strips
            .Select((s, i) => ProblemOf(s) is { } wrong ? $"strip {i + 1}, {s.Name}: {wrong}" : null)
            .FirstOrDefault(p => p is not null);

    private static string? ProblemOf(StackStrip strip) =>
        strip.Source.Length == 0 ? "it has no source"
        : strip.Look?.Kind != LookKind.Blur && ColoursOf(strip) is not (1 or 3)
            ? "channels are one or three of colour, and an alpha behind them"
        : !(strip.Opacity is >= 0 and <= 1) ? "opacity goes from 0 to 1"
        : !(Math.Abs(strip.Gain) <= MostStops) ? $"gain goes from -{MostStops} to {MostStops} stops"
        : strip.Mask is { } mask && (mask.Source.Length == 0 || mask.Channel.Length == 0) ? "its mask needs a source and a channel"
        : strip.Look?.Problem(ColoursOf(strip)) is { } look ? look
        : null;

    /// <summary>Channels of colour that a strip names.</summary>
    internal static int ColoursOf(StackStrip strip) => strip.Channels.Length - (AlphaOf(strip) is null ? 0 : 1);

    /// <summary>The channel that is its alpha, or null.</summary>
    public static string? AlphaOf(StackStrip strip) =>
        strip.Channels.Length is 2 or 4 && ChannelNames.IsAlpha(strip.Channels[^1]) ? strip.Channels[^1] : null;
}
