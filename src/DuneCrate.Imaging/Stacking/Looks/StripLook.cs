using System.Text.Json.Serialization;

namespace DuneCrate.Imaging.Stacking.Looks;

/// <summary>
/// What a strip does to what lies below it: enough to judge whether its pass will serve, and no more. Each kind reads the numbers that are
/// named at it.
/// </summary>
/// <param name="Kind">What it does.</param>
public sealed record StripLook(LookKind Kind)
{
    private const double MostRadius = 200;

    /// <summary>Glow: how far light spreads, in pixels of the full picture; twice the standard deviation of a Gaussian.</summary>
    public double Radius { get; init; } = 24;

    /// <summary>Fog: the distance at which it begins, in the pass's units.</summary>
    public double Near { get; init; }

    /// <summary>Fog: over how far a distance half of the light is lost.</summary>
    public double Half { get; init; } = 10;

    /// <summary>Fog: its colour. Relight: what the lamp's light is multiplied by. Scene-linear red, green and blue.</summary>
    public double[] Colour { get; init; } = [1, 1, 1];

    /// <summary>Focus: focal length in millimetres.</summary>
    public double FocalLength { get; init; } = 35;

    /// <summary>Focus: f-number.</summary>
    public double FStop { get; init; } = 2.8;

    /// <summary>Focus: distance that is sharp, in the pass's units.</summary>
    public double FocusDistance { get; init; } = 5;

    /// <summary>Focus: width of the film or sensor in millimetres.</summary>
    public double FilmWidth { get; init; } = 36;

    /// <summary>Focus: metres in one unit of the pass.</summary>
    public double UnitMetres { get; init; } = 1;

    /// <summary>Blur: how long the shutter is open, as a share of the frame; 0.5 is 180°.</summary>
    public double Shutter { get; init; } = 0.5;

    /// <summary>Whether its pass holds data, of which a mean would be a value that is nowhere.</summary>
    [JsonIgnore]
    public bool ReadsData => Kind is LookKind.Fog or LookKind.Focus or LookKind.Blur;

    /// <summary>What is wrong with its numbers, for people; or null.</summary>
    /// <param name="colours">Channels of colour that its strip names.</param>
    public string? Problem(int colours) =>
        Kind switch
        {
            LookKind.Glow when !(Radius is >= 0 and <= MostRadius) => $"a glow's radius goes from 0 to {MostRadius} pixels",
            LookKind.Fog when !(Half > 0) => "fog needs a distance above 0 over which half of the light is lost",
            LookKind.Fog when Near < 0 => "fog begins at 0 or farther away",
            LookKind.Focus when !(FocalLength > 0 && FStop > 0 && FilmWidth > 0 && UnitMetres > 0) =>
                "focal length, f-stop, film width and unit are above 0",
            LookKind.Focus when !(FocusDistance * UnitMetres * 1000 > FocalLength) =>
                "the focus distance must be greater than the focal length",
            LookKind.Blur when !(Shutter is >= 0 and <= 2) => "the shutter is open for 0 to 2 frames",
            LookKind.Blur when colours is not (2 or 3) => "motion needs its two channels, x and y",
            _ when Colour is not { Length: 3 } || Colour.Any(c => !(c is >= 0 and <= 1e4)) => "a colour has three numbers from 0",
            _ => null,
        };
}
