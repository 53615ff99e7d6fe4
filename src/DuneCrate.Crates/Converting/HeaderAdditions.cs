using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Colour;

namespace DuneCrate.Crates.Converting;

/// <summary>What is written into a header that lacks it.</summary>
/// <param name="FrameRate">Frame rate; null to write none.</param>
/// <param name="Camera">Render camera; null to write none.</param>
/// <param name="Space">Colour space of scene-linear colour; null to write none.</param>
public sealed record HeaderAdditions(FrameRate? FrameRate, string? Camera, Primaries? Space)
{
    /// <summary>What is written of each where there is nothing to add.</summary>
    public static readonly HeaderAdditions None = new(null, null, null);

    /// <summary>
    /// The attributes that a part lacks. Names: OpenEXR 3.1 standard attributes (framesPerSecond, cameraLabel, chromaticities,
    /// colorInteropID); the ids of colour spaces are those of the Color Interop Forum, from memory.
    /// </summary>
    internal ImmutableArray<ExrAttribute> Missing(PartFacts part)
    {
        var missing = ImmutableArray.CreateBuilder<ExrAttribute>();
        if (FrameRate is { } rate && part.FrameRate is null)
        {
            missing.Add(ExrAttribute.Rational("framesPerSecond", rate));
        }

        if (Camera is not null && part.Camera is null)
        {
            missing.Add(ExrAttribute.Text("cameraLabel", Camera));
        }

        if (Space is { } space)
        {
            if (part.Chromaticities is null)
            {
                missing.Add(ExrAttribute.Chromaticities(space.Chromaticities.AsSpan()));
            }

            if (part.ColourSpace is null && InteropId(space) is { } id)
            {
                missing.Add(ExrAttribute.Text("colorInteropID", id));
            }
        }

        return missing.ToImmutable();
    }

    private static string? InteropId(Primaries space) =>
        space.Key switch
        {
            "rec709" => "lin_rec709_scene",
            "rec2020" => "lin_rec2020_scene",
            "p3" => "lin_p3d65_scene",
            "ap0" => "lin_ap0_scene",
            "ap1" => "lin_ap1_scene",
            _ => null,
        };
}
