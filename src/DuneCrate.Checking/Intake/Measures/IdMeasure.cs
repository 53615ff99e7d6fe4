using System.Globalization;
using System.Runtime.InteropServices;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// The ids or flat colours met in an identity pass, and the pixels that lie between two of them. Whole numbers in 8 or 16 bits are taken as
/// such.
/// </summary>
internal sealed class IdMeasure(int[] channels, ChannelType type) : PassMeasure
{
    private const int Most = 256;

    private readonly Dictionary<(float, float, float), long> _counts = [];
    private readonly float _scale =
        channels.Length > 1
            ? 1
            : type switch
            {
                ChannelType.UInt8 => 255,
                ChannelType.UInt16 => 65535,
                _ => 1,
            };
    private long _fractional,
        _between;
    private bool _hasMore;
    private int[]? _at;

    public override IEnumerable<int> Needs => channels;

    public override void AddLine(ScanLine line)
    {
        int start = 0;
        while (start < line.Width)
        {
            int end = line.Width;
            foreach (int channel in channels)
            {
                ReadOnlySpan<int> bits = MemoryMarshal.Cast<float, int>(line[channel].AsSpan(start, end - start));
                end = bits.IndexOfAnyExcept(bits[0]) is >= 0 and int other ? start + other : end;
            }

            (float, float, float) run = At(line, start);
            Count(run, end - start);
            if (end - start == 1 && start > 0 && end < line.Width && IsBetween(At(line, start - 1), run, At(line, end)))
            {
                _between++;
                _at ??= [line.Window.MinX + start, line.Y];
            }

            start = end;
        }
    }

    private (float, float, float) At(ScanLine line, int x) =>
        channels.Length == 1 ? (line[channels[0]][x] * _scale, 0, 0) : (line[channels[0]][x], line[channels[1]][x], line[channels[2]][x]);

    private void Count((float, float, float) value, int pixels)
    {
        if (channels.Length == 1 && MathF.Abs(value.Item1 - MathF.Round(value.Item1)) > 1e-3f)
        {
            _fractional += pixels;
        }

        if (_counts.TryGetValue(value, out long known))
        {
            _counts[value] = known + pixels;
        }
        else if (_counts.Count < Most)
        {
            _counts[value] = pixels;
        }
        else
        {
            _hasMore = true;
        }
    }

    private static bool IsBetween((float A, float B, float C) left, (float A, float B, float C) value, (float A, float B, float C) right)
    {
        bool Within(float l, float v, float r) => v >= MathF.Min(l, r) && v <= MathF.Max(l, r);
        return left != right
            && value != left
            && value != right
            && Within(left.A, value.A, right.A)
            && Within(left.B, value.B, right.B)
            && Within(left.C, value.C, right.C);
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics)
    {
        string Text((float A, float B, float C) v) =>
            channels.Length == 1
                ? v.A.ToString("R", CultureInfo.InvariantCulture)
                : string.Create(CultureInfo.InvariantCulture, $"{v.A:0.####} {v.B:0.####} {v.C:0.####}");
        return facts with
        {
            Ids = new IdFacts(
                [.. _counts.OrderByDescending(c => c.Value).ThenBy(c => c.Key).Select(c => new IdCount(Text(c.Key), c.Value))],
                _hasMore,
                _fractional,
                _between,
                _at
            ),
        };
    }
}
