using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Frames;
using DuneCrate.Imaging.Statistics;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Reports;

/// <summary>One number along the frames, drawn 1000 × 44.</summary>
/// <param name="Label">What it is, with its unit.</param>
/// <param name="Least">The least value, at the drawing's foot.</param>
/// <param name="Most">The greatest, at its head.</param>
/// <param name="ZeroAt">How far down 0 lies, 0..44; null when it is not among the values.</param>
/// <param name="Path">The line.</param>
/// <param name="Marks">Frames that jump.</param>
public sealed record TrendStrip(string Label, string Least, string Most, double? ZeroAt, string Path, ImmutableArray<TrendMark> Marks)
{
    private const int Window = 7;
    private const double Deviations = 6,
        Share = 0.02,
        Height = 44,
        Margin = 4;

    /// <summary>The frames that jump, in short.</summary>
    public string Odd =>
        Marks.IsEmpty ? ""
        : FrameSet.From(Marks.Select(m => m.Frame)).ToString() is { Length: > 18 } text ? text[..17] + "…"
        : FrameSet.From(Marks.Select(m => m.Frame)).ToString();

    /// <summary>What it shows, in words.</summary>
    public string Words => $"{(Least == Most ? Least : $"{Least} to {Most}")}{(Marks.IsEmpty ? ", nothing jumps" : $", jumps at {Odd}")}";

    /// <summary>The strips of a pass: mean, maximum, size of the file, samples that are no numbers. Without pixels only the size.</summary>
    public static ImmutableArray<TrendStrip> From(PlannedOutput output, string? pass, FrameSet range, IntakeResult intake)
    {
        (int Frame, FileFacts Facts)[] files =
        [
            .. output
                .Frames.Select(f => (f, Facts: intake.Facts.GetValueOrDefault(output.Name.At(f))))
                .Where(f => f.Facts?.Readable == true)!,
        ];
        string[] channels =
        [
            .. output
                .Passes.FirstOrDefault(p => p.Pass == pass)
                ?.Channels.Keys.Where(c => c != "A" && !c.EndsWith(".A", StringComparison.Ordinal))
                ?? [],
        ];
        SampleStatistics[] Samples(FileFacts file) => [.. channels.Select(c => file.FindChannel(c)?.Samples).OfType<SampleStatistics>()];
        if (files.Length < 2)
        {
            return [];
        }

        var strips = ImmutableArray.CreateBuilder<TrendStrip>();
        (int Frame, SampleStatistics[] Samples)[] read = [.. files.Select(f => (f.Frame, Samples(f.Facts))).Where(f => f.Item2.Length > 0)];
        if (read.Length > 1)
        {
            strips.Add(Make("Mean", range, [.. read.Select(r => (r.Frame, r.Samples.Average(s => s.Mean)))]));
            strips.Add(Make("Maximum", range, [.. read.Select(r => (r.Frame, r.Samples.Max(s => s.Max)))]));
        }

        strips.Add(Make("File size, KiB", range, [.. files.Select(f => (f.Frame, f.Facts.Bytes / 1024.0))]));
        if (read.Any(r => r.Samples.Any(s => s.Nan + s.Inf > 0)))
        {
            strips.Add(Make("Not a number", range, [.. read.Select(r => (r.Frame, (double)r.Samples.Sum(s => s.Nan + s.Inf)))]));
        }

        return strips.ToImmutable();
    }

    private static TrendStrip Make(string label, FrameSet range, (int Frame, double Value)[] values)
    {
        double least = values.Min(v => v.Value),
            most = values.Max(v => v.Value),
            span = Math.Max(most - least, 1e-12),
            frames = Math.Max(1, range.Last - range.First + 1);
        double Y(double value) => Height - Margin - (Height - 2 * Margin) * (value - least) / span;
        double X(int frame) => 1000 * (frame - range.First + 0.5) / frames;
        var path = new StringBuilder();
        for (int i = 0; i < values.Length; i++)
        {
            bool joins = i > 0 && values[i].Frame - values[i - 1].Frame <= 1;
            path.Append(CultureInfo.InvariantCulture, $"{(joins ? 'L' : 'M')}{X(values[i].Frame):0.#} {Y(values[i].Value):0.#}");
        }

        ImmutableArray<TrendMark> marks =
        [
            .. Outliers
                .Find([.. values.Select(v => v.Value)], Window, Deviations, Share)
                .Select(i => new TrendMark(values[i].Frame, X(values[i].Frame) - 500 / frames, 1000 / frames, Text(values[i].Value))),
        ];
        return new TrendStrip(label, Text(least), Text(most), least < 0 && most > 0 ? Y(0) : null, path.ToString(), marks);
    }

    private static string Text(double value) => value.ToString(Math.Abs(value) >= 100 ? "#,0" : "0.####", CultureInfo.InvariantCulture);
}
