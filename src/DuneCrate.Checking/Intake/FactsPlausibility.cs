using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// Whether facts that another program sends can be facts of a file at all: what this product's own reader never makes is refused before any
/// rule sees it. Whether they are true of the file only reading it tells; sealing does.
/// </summary>
public static class FactsPlausibility
{
    private const int MostText = 4096,
        MostIds = 4096,
        MostTerms = 1024,
        MostRanks = 64,
        Percentiles = 9,
        Far = 1 << 30;

    /// <summary>What cannot be, as the end of a sentence; null when all of it can.</summary>
    /// <param name="facts">The facts.</param>
    /// <param name="depth">What was asked for.</param>
    public static string? Problem(FileFacts facts, FactsDepth depth)
    {
        ExrLimits limits = ExrLimits.Default;
        bool hasContent = !facts.Content.IsDefault && facts.Content.Length == ContentHash.Bytes;
        return facts.Bytes < 0 || !Enum.IsDefined(facts.Trouble) ? "its size or its trouble is none"
            : (facts.Trouble == ImageProblem.None) != (facts.Problem is null) ? "its trouble has no words, or words no trouble"
            : !IsText(facts.Path) || !IsText(facts.Format) || !IsText(facts.Problem) ? "a text in it is too long"
            : facts.Parts.IsDefault || facts.Parts.Length > limits.MaxParts || (facts.Readable && facts.Parts.IsEmpty)
                ? "it has no parts, or too many"
            : depth == FactsDepth.Pixels && facts.Readable && !facts.IsTransient && !hasContent ? "the hash of its content is none"
            : facts.MendedChunks < 0 ? "it has fewer than no mended chunks"
            : facts.Rebuild is { } sum && Problem(sum) is { } wrong ? wrong
            : facts.Parts.Select((p, i) => Problem(p, i, limits)).FirstOrDefault(p => p is not null);
    }

    /// <summary>The same of a sum.</summary>
    public static string? Problem(RebuildFacts sum) =>
        !IsCount(sum.MeanResidual) || !IsCount(sum.MaxResidual) || sum.OffShare is not (>= 0 and <= 1) ? "a residual of its sum is none"
        : !IsPlace(sum.Worst) ? "the worst place of its sum is none"
        : sum.Terms.IsDefault
        || sum.Terms.Length > MostTerms
        || sum.Terms.Any(t => !IsText(t.Name) || !IsNumber(t.Mean) || !IsNumber(t.Likeness))
            ? "a term of its sum is none"
        : sum.Cause is { } cause
        && (!Enum.IsDefined(cause.Kind) || !IsText(cause.Term) || !IsNumber(cause.Gain ?? 0) || !IsNumber(cause.Explains))
            ? "the cause of its sum is none"
        : null;

    private static string? Problem(PartFacts part, int index, ExrLimits limits)
    {
        long pixels = IsWindow(part.DataWindow) ? part.DataWindow.Width * part.DataWindow.Height : 0;
        return part.Index != index ? $"part {index} says that it is part {part.Index}"
            : pixels is <= 0 || pixels > limits.MaxPixels || !IsWindow(part.DisplayWindow) ? "a window is none"
            : !PixelAspect.Is(part.PixelAspectRatio) ? "the aspect of its pixels is none"
            : !IsText(part.Name) || !IsText(part.Type) || !IsText(part.Compression) || !IsText(part.Camera) || !IsText(part.View)
                ? "a text of a part is too long"
            : part.RenderSeconds is { } seconds && !IsCount(seconds) ? "the time of its render is none"
            : part.Views is { IsDefault: true } || part.Cryptomattes is { IsDefault: true } ? "a list of a part is none"
            : part.Chromaticities is { } colours && (colours.IsDefault || colours.Length != 8) ? "its chromaticities are none"
            : part.Channels.IsDefaultOrEmpty || part.Channels.Length > limits.MaxChannels ? "a part has no channels, or too many"
            : part.Channels.Any(c => !IsText(c.Name) || !IsText(c.Pass) || !Enum.IsDefined(c.Type)) ? "a channel is none"
            : part.Channels.Select(c => c.Name).Distinct(StringComparer.Ordinal).Count() != part.Channels.Length
                ? "two channels share a name"
            : part.Channels.Any(c => c.Samples is { } s && !IsPossible(s, pixels)) ? "statistics of a channel are none"
            : part.Passes is { } passes && (passes.IsDefault || passes.Any(p => !IsPossible(p, pixels))) ? "a measure of a pass is none"
            : null;
    }

    private static bool IsPossible(SampleStatistics s, long pixels) =>
        IsNumber(s.Min)
        && IsNumber(s.Max)
        && IsNumber(s.Mean)
        && IsCount(s.StdDev)
        && s.Min <= s.Max
        && s.Pixels >= 0
        && s.Pixels <= pixels
        && Within(s.Pixels, s.Nan, s.Inf, s.Negative, s.Zero, s.One, s.AboveOne, s.Nan + s.Inf)
        && s.Levels >= 0
        && IsText(s.Hash)
        && IsText(s.Grid)
        && !s.Percentiles.IsDefault
        && s.Percentiles.Length is 0 or Percentiles
        && s.Percentiles.All(IsNumber)
        && IsPlace(s.FirstNonFinite)
        && s.NonFiniteBox is null or { Length: 4 };

    private static bool IsPossible(PassFacts p, long pixels) =>
        IsText(p.Pass)
        && (p.Fireflies is not { } f || (Within(pixels, f.Count) && IsNumber(f.Worst) && IsNumber(f.Times) && IsPlace(f.At)))
        && (p.Alpha is not { } a || (Within(pixels, a.Empty, a.Lit, a.Soft, a.Above) && IsPlace(a.At)))
        && (
            p.Depth is not { } d
            || (
                Within(pixels, d.BackgroundPixels, d.Edges, d.Between)
                && IsNumber(d.Background ?? 0)
                && IsNumber(d.Nearest)
                && IsNumber(d.Farthest)
                && IsPlace(d.At)
            )
        )
        && (p.Normal is not { } n || (Within(pixels, n.Covered, n.Off) && IsCount(n.MeanLength) && IsPlace(n.At)))
        && (p.Ground is not { } g || (Within(pixels, g.Empty ?? 0, g.Dark, g.White) && IsPlace(g.At)))
        && (p.Ids is not { } i || (AreIds(i.Ids, pixels) && Within(pixels, i.Fractional, i.Between) && IsPlace(i.At)))
        && (p.Crypto is not { } c || (AreIds(c.Ids, pixels) && Within(pixels, c.Rising, c.Over) && IsNumber(c.WorstSum) && IsPlace(c.At)))
        && (p.Picture is not { } t || PictureMeasure.IsPossible(t))
        && (p.Coverage is null || p.Coverage.Length == BlockSums.Across * BlockSums.Down);

    private static bool AreIds(System.Collections.Immutable.ImmutableArray<IdCount> ids, long pixels) =>
        !ids.IsDefault && ids.Length <= MostIds && ids.All(i => IsText(i.Value) && i.Pixels >= 0 && i.Pixels <= MostRanks * pixels);

    private static bool Within(long pixels, params ReadOnlySpan<long> counts)
    {
        foreach (long count in counts)
        {
            if (count < 0 || count > pixels)
            {
                return false;
            }
        }

        return true;
    }

    private static bool IsText(string? text) => text is null or { Length: <= MostText };

    private static bool IsNumber(double number) => double.IsFinite(number);

    private static bool IsCount(double number) => double.IsFinite(number) && number >= 0;

    private static bool IsPlace(int[]? place) => place is null or { Length: 2 };

    private static bool IsWindow(PixelBox box) => !box.IsEmpty && box.MinX > -Far && box.MinY > -Far && box.MaxX < Far && box.MaxY < Far;
}
