using DuneCrate.Imaging.Colour;

namespace DuneCrate.Imaging.Pictures;

/// <summary>The curves of the view transforms, from scene-linear to 0..1 of the display.</summary>
public static class ViewCurve
{
    private const double Black = 95,
        White = 685,
        DensityAStep = 0.002,
        FilmGamma = 0.6,
        Codes = 1023;

    private static readonly double Gain = 1 / (1 - Math.Pow(10, (Black - White) * DensityAStep / FilmGamma));

    /// <summary>A value through a view.</summary>
    /// <param name="view">The view.</param>
    /// <param name="linear">Scene-linear; what lies outside 0..1 afterwards is cut off by whoever shows it.</param>
    public static double Apply(PictureView view, double linear) =>
        view switch
        {
            PictureView.Srgb => SrgbCurve.Encode(linear),
            // Rec. ITU-R BT.709-6, 1.2.
            PictureView.Rec709 => linear < 0.018 ? 4.5 * linear : 1.099 * Math.Pow(linear, 0.45) - 0.099,
            PictureView.Log => (White + FilmGamma / DensityAStep * Math.Log10((Math.Max(linear, 0) + Gain - 1) / Gain)) / Codes,
            _ => linear,
        };

    /// <summary>The name of a view on the command line and in addresses.</summary>
    public static string Name(PictureView view) => view.ToString().ToLowerInvariant();

    /// <summary>The view of a name, or null.</summary>
    public static PictureView? Find(string? name) =>
        Enum.GetValues<PictureView>().Where(v => Name(v) == name).Select(v => (PictureView?)v).FirstOrDefault();
}
