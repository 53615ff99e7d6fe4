using System.Collections.Immutable;
using System.Globalization;

namespace DuneCrate.Planning.Model;

/// <summary>
/// The render settings that ship; a show or layer may name others, which are kept as text. To add one, add a line to <see cref="Shipped"/>.
/// </summary>
public static class RenderSettings
{
    /// <summary>The settings, in the order they are shown. Common practice.</summary>
    public static readonly ImmutableArray<RenderSetting> Shipped =
    [
        Number("samples", "samples per pixel"),
        Number("samples.scattering", "samples for scattering", "samples_subsurface"),
        Number("bounces.diffuse", "diffuse bounces", "bounces_diffuse"),
        Number("bounces.specular", "specular bounces", "bounces_glossy"),
        Number("bounces.refraction", "refraction bounces", "bounces_transmission"),
        Number("bounces.volume", "volume bounces", "bounces_volume"),
        Switch("global_illumination", "global illumination"),
        Switch("denoise", "denoise"),
        Switch("motion_blur", "motion blur baked in"),
        Number("shutter_open", "shutter opens, frames"),
        Number("shutter_close", "shutter closes, frames"),
        Switch("defocus", "defocus baked in"),
        Number("f_stop", "f-stop"),
        Number("focus_distance", "focus distance, scene units"),
        Switch("seed_changes", "noise seed changes from frame to frame", "seed_per_frame"),
        new("background", "background", SettingKind.Choice, ["shown", "transparent"]),
        new("filter_colour", "pixel filter of colour", SettingKind.Text, []),
        new("filter_data", "pixel filter of data", SettingKind.Text, []),
    ];

    /// <summary>The setting of a name, its former one included, or null for one of somebody's own.</summary>
    public static RenderSetting? Find(string name) => Shipped.FirstOrDefault(s => s.Name == name || s.Former == name);

    /// <summary>The name of today for a name in a document; one of somebody's own stays as it is.</summary>
    public static string NameOf(string name) => Find(name)?.Name ?? name;

    /// <summary>The value that a layer renders with: its own, else the show's, else null.</summary>
    public static string? Value(Plan plan, LayerPlan layer, string name) =>
        layer.Settings?.GetValueOrDefault(name) ?? plan.Show.Settings?.GetValueOrDefault(name);

    /// <summary>A number that a layer renders with, or null.</summary>
    public static double? NumberOf(Plan plan, LayerPlan layer, string name) =>
        double.TryParse(Value(plan, layer, name), NumberStyles.Float, CultureInfo.InvariantCulture, out double number) ? number : null;

    /// <summary>Whether a switch is on; null when nobody has said.</summary>
    public static bool? IsOn(Plan plan, LayerPlan layer, string name) =>
        Value(plan, layer, name) switch
        {
            "yes" => true,
            "no" => false,
            _ => null,
        };

    /// <summary>What is wrong with a value, or null.</summary>
    public static string? Problem(string name, string value) =>
        Find(name) switch
        {
            { Kind: SettingKind.Number } s
                when !(
                    double.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out double number)
                    && number is >= -1000 and <= 1e9
                ) => $"{s.Words}: '{value}' is not a number.",
            { Kind: SettingKind.Switch } s when value is not ("yes" or "no") => $"{s.Words}: write yes or no.",
            { Kind: SettingKind.Choice } s when !s.Choices.Contains(value) => $"{s.Words}: write {string.Join(" or ", s.Choices)}.",
            _ => null,
        };

    private static RenderSetting Number(string name, string words, string? former = null) =>
        new(name, words, SettingKind.Number, [], former);

    private static RenderSetting Switch(string name, string words, string? former = null) =>
        new(name, words, SettingKind.Switch, ["yes", "no"], former);
}
