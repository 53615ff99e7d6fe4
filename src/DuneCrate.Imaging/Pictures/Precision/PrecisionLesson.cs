using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Imaging.Colour;

namespace DuneCrate.Imaging.Pictures.Precision;

/// <summary>
/// A pass as it would be when stored with fewer bits and then graded: what is left of its levels, and where bands show. Levels are counted
/// among the 256 that a display with sRGB shows. Common practice.
/// </summary>
/// <param name="Stored">How it was stored.</param>
/// <param name="Exposure">Stops that it is raised by afterwards.</param>
/// <param name="Gamma">What the graded value is raised to the inverse of.</param>
/// <param name="Levels">By channel: levels that the graded picture has.</param>
/// <param name="Shadows">By channel: those of them up to middle grey (0.18).</param>
/// <param name="Banded">Share of the pixels that lie at an edge of a band.</param>
/// <param name="Clipped">Share of the pixels that lost light above 1.</param>
/// <param name="Graded">The stored picture after the grade, scene-linear.</param>
/// <param name="Bands">1 at the pixels that lie at an edge of a band, 0 elsewhere.</param>
public sealed record PrecisionLesson(
    StoredAs Stored,
    double Exposure,
    double Gamma,
    ImmutableArray<int> Levels,
    ImmutableArray<int> Shadows,
    double Banded,
    double Clipped,
    PassPixels Graded,
    float[] Bands
)
{
    private const double MiddleGrey = 0.18;
    private const int LeastCode = 0,
        MostCode = 255,
        TableSteps = 8192;

    /// <summary>What a compositor is told, without its point.</summary>
    public string Sentence =>
        string.Create(
            CultureInfo.InvariantCulture,
            $"at {Exposure:+0.##;-0.##;0} stops {StoredSamples.NameOf(Stored)} leaves "
                + $"{(Shadows.IsEmpty ? 0 : Shadows.Min())} levels in the shadows"
        );

    /// <summary>The name of how it is stored, for people.</summary>
    public string Name => StoredSamples.NameOf(Stored);

    /// <summary>Works it out.</summary>
    /// <param name="pixels">Colour, scene-linear.</param>
    /// <param name="stored">How it is stored.</param>
    /// <param name="exposure">Stops that it is raised by afterwards.</param>
    /// <param name="gamma">What the graded value is raised to the inverse of.</param>
    public static PrecisionLesson Of(PassPixels pixels, StoredAs stored, double exposure, double gamma)
    {
        int channels = Math.Min(3, pixels.Channels.Length),
            count = pixels.Width * pixels.Height;
        float gain = (float)Math.Pow(2, exposure),
            power = (float)(1 / gamma);
        var levels = ImmutableArray.CreateBuilder<int>(channels);
        var shadows = ImmutableArray.CreateBuilder<int>(channels);
        var graded = new List<(string, float[])>();
        float[] bands = new float[count],
            shown = new float[count],
            wanted = new float[count];
        bool[] clipped = new bool[count];
        bool isWhole = stored is StoredAs.EightBit or StoredAs.SixteenBit;
        int greyCode = (int)Math.Round(MostCode * SrgbCurve.Encode(MiddleGrey));
        for (int c = 0; c < channels; c++)
        {
            float[] plane = pixels.Channels[c].Plane,
                kept = new float[count];
            bool[] seen = new bool[MostCode + 1];
            for (int i = 0; i < count; i++)
            {
                clipped[i] |= isWhole && plane[i] > 1;
                kept[i] = Grade(StoredSamples.Of(stored, plane[i]), gain, power);
                shown[i] = Code(kept[i]);
                wanted[i] = Code(Grade(plane[i], gain, power));
                seen[(int)MathF.Round(shown[i])] = true;
            }

            levels.Add(seen.Count(s => s));
            shadows.Add(seen.Take(greyCode + 1).Count(s => s));
            graded.Add((pixels.Channels[c].Channel, kept));
            Mark(shown, wanted, pixels.Width, bands);
        }

        return new PrecisionLesson(
            stored,
            exposure,
            gamma,
            levels.ToImmutable(),
            shadows.ToImmutable(),
            count == 0 ? 0 : bands.Count(b => b > 0) / (double)count,
            count == 0 ? 0 : clipped.Count(b => b) / (double)count,
            pixels with
            {
                Channels = [.. graded],
            },
            bands
        );
    }

    private static float Grade(float value, float gain, float power)
    {
        float raised = value * gain;
        return power == 1 || !(raised > 0) ? raised : MathF.Pow(raised, power);
    }

    /// <summary>The display's code of a value, not rounded, 0..255; by a table with steps far below a code.</summary>
    private static float Code(float value) =>
        value is > 0 and < 1 ? Codes[(int)(MathF.Sqrt(value) * TableSteps)]
        : value >= 1 ? MostCode
        : LeastCode;

    private static readonly float[] Codes =
    [
        .. Enumerable
            .Range(0, TableSteps + 1)
            .Select(i => (i + 0.5) / TableSteps)
            .Select(root => (float)Math.Min(MostCode, MostCode * SrgbCurve.Encode(root * root))),
    ];

    /// <summary>A band's edge: two codes or more to the next pixel where the whole picture has less than one.</summary>
    private static void Mark(float[] shown, float[] wanted, int width, float[] bands)
    {
        for (int i = 0; i < shown.Length; i++)
        {
            bool isLast = i % width == width - 1;
            if ((!isLast && IsEdge(shown, wanted, i, i + 1)) || (i + width < shown.Length && IsEdge(shown, wanted, i, i + width)))
            {
                bands[i] = 1;
            }
        }
    }

    private static bool IsEdge(float[] shown, float[] wanted, int one, int other) =>
        MathF.Abs(MathF.Round(shown[one]) - MathF.Round(shown[other])) >= 2 && MathF.Abs(wanted[one] - wanted[other]) < 1;
}
