using DuneCrate.Exr;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Imaging.Pictures.Precision;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;

namespace DuneCrate.Shots.Stacking;

/// <summary>Works out what passes lose in fewer bits, once for page and pictures. Safe to call from several threads.</summary>
public sealed class BitsPictures(PictureService pictures) : IDisposable
{
    private const long KeptBytes = 48L << 20;
    private const double MostStops = 12;

    private readonly SharedCache<string, PrecisionLesson> _lessons = new(
        KeptBytes,
        (_, l) => l.Graded.Bytes + l.Bands.Length * sizeof(float)
    );

    /// <summary>Stops within bounds.</summary>
    public static double Stops(double stops) => double.IsFinite(stops) ? Math.Clamp(stops, -MostStops, MostStops) : 0;

    /// <summary>A gamma within bounds.</summary>
    public static double Gammas(double gamma) => double.IsFinite(gamma) ? Math.Clamp(gamma, 0.1, 10) : 1;

    /// <summary>What is left of a pass; null when it is not colour or has not come.</summary>
    /// <exception cref="ImageException">The file cannot be read; the message says why.</exception>
    public async Task<PrecisionLesson?> LessonAsync(
        ShotView view,
        PictureAddress sought,
        StoredAs stored,
        double exposure,
        double gamma,
        CancellationToken cancel
    ) =>
        await pictures.FindAsync(view, sought, cancel) is { } seen && seen.Definition?.IsColour != false
            ? await LessonAsync(seen, stored, exposure, gamma, cancel)
            : null;

    /// <summary>What is left of a pass in a file.</summary>
    public Task<PrecisionLesson> LessonAsync(SeenFile seen, StoredAs stored, double exposure, double gamma, CancellationToken cancel) =>
        _lessons.GetAsync(
            $"{seen.Path.FullPath}|{seen.Stamp}|{seen.Key}|{stored}|{exposure}|{gamma}",
            async stop =>
            {
                PassPixels pixels = await pictures.SamplesAsync(seen, await pictures.WindowAsync(seen, stop), stop);
                return await pictures.ReadAsync(
                    memory =>
                    {
                        using IDisposable held = memory(2 * pixels.Bytes);
                        return PrecisionLesson.Of(pixels, stored, exposure, gamma);
                    },
                    stop
                );
            },
            cancel
        );

    /// <inheritdoc/>
    public void Dispose() => _lessons.Dispose();
}
