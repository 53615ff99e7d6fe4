using DuneCrate.Imaging;
using DuneCrate.Imaging.Stacking;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>The form beside the strata: everything that can be said of a strip. What is left out stays.</summary>
public sealed class StripForm
{
    /// <summary>The revision that was seen.</summary>
    public int Revision { get; set; }

    /// <summary>How it is laid in.</summary>
    public StackOperation? Operation { get; set; }

    /// <summary>0 to 100.</summary>
    public double? Opacity { get; set; }

    /// <summary>Stops.</summary>
    public double? Gain { get; set; }

    /// <summary>How colour and alpha go together.</summary>
    public AlphaMode? Alpha { get; set; }

    /// <summary>Added to the frame.</summary>
    public int? Offset { get; set; }

    /// <summary>The one frame for all; empty for every frame its own.</summary>
    public string? Hold { get; set; }

    /// <summary>What weighs it; empty for nothing, null to leave it.</summary>
    public string? Mask { get; set; }

    /// <summary>Whether 1 − the mask weighs.</summary>
    public bool Invert { get; set; }

    /// <summary>Numbers of a look.</summary>
    public double? Radius { get; set; }

    /// <summary>Where fog begins.</summary>
    public double? Near { get; set; }

    /// <summary>Over how far half of the light is lost.</summary>
    public double? Half { get; set; }

    /// <summary>Focal length in millimetres.</summary>
    public double? FocalLength { get; set; }

    /// <summary>f-number.</summary>
    public double? FStop { get; set; }

    /// <summary>Distance that is sharp.</summary>
    public double? FocusDistance { get; set; }

    /// <summary>Film width in millimetres.</summary>
    public double? FilmWidth { get; set; }

    /// <summary>Metres in a unit.</summary>
    public double? UnitMetres { get; set; }

    /// <summary>Share of the frame that the shutter is open.</summary>
    public double? Shutter { get; set; }

    /// <summary>Red, green and blue.</summary>
    public double[]? Colour { get; set; }

    /// <summary>A strip as the form says.</summary>
    /// <param name="strip">The strip as it is.</param>
    /// <param name="mask">What weighs it from now on.</param>
    public StackStrip Put(StackStrip strip, StackMask? mask) =>
        strip with
        {
            Operation = Operation ?? strip.Operation,
            Opacity = Opacity is { } opacity ? Math.Round(opacity / 100, 4) : strip.Opacity,
            Gain = Gain ?? strip.Gain,
            Alpha = Alpha ?? strip.Alpha,
            Offset = Offset ?? strip.Offset,
            Hold =
                Hold is null ? strip.Hold
                : int.TryParse(Hold, out int frame) ? frame
                : null,
            Mask = mask is null ? null : mask with { Invert = Invert },
            Look = strip.Look is { } look
                ? look with
                {
                    Radius = Radius ?? look.Radius,
                    Near = Near ?? look.Near,
                    Half = Half ?? look.Half,
                    FocalLength = FocalLength ?? look.FocalLength,
                    FStop = FStop ?? look.FStop,
                    FocusDistance = FocusDistance ?? look.FocusDistance,
                    FilmWidth = FilmWidth ?? look.FilmWidth,
                    UnitMetres = UnitMetres ?? look.UnitMetres,
                    Shutter = Shutter ?? look.Shutter,
                    Colour = Colour is { Length: 3 } ? Colour : look.Colour,
                }
                : null,
        };
}
