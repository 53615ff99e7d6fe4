using System.Globalization;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// Ranks of a Cryptomatte: pairs of id and coverage, coverage falling from rank to rank and summing to at most 1. Source: Cryptomatte
/// specification 1.2.
/// </summary>
internal sealed class CryptoMeasure(int[] ranks) : PassMeasure
{
    private const int Most = 4096;
    private const float MostSum = 1.001f,
        Tolerance = 1e-4f;

    private readonly Dictionary<uint, long> _ids = [];
    private long _rising,
        _over;
    private float _worst;
    private bool _hasMore;
    private int[]? _at;

    public override IEnumerable<int> Needs => ranks;

    public override void AddLine(ScanLine line)
    {
        float[] first = line[ranks[0]],
            cover = line[ranks[1]];
        for (int x = 0; x < line.Width; x++)
        {
            // The usual pixel: one thing, wholly covered, nothing in the second rank.
            bool isPlain = cover[x] is 0 or 1 && (ranks.Length < 4 || line[ranks[3]][x] == 0);
            if (isPlain)
            {
                int start = x;
                while (
                    x + 1 < line.Width
                    && first[x + 1] == first[x]
                    && cover[x + 1] == cover[x]
                    && (ranks.Length < 4 || line[ranks[3]][x + 1] == 0)
                )
                {
                    x++;
                }

                if (cover[x] == 1)
                {
                    Count(first[x], x - start + 1);
                }

                continue;
            }

            AddPixel(line, x);
        }
    }

    private void AddPixel(ScanLine line, int x)
    {
        float sum = 0,
            before = float.PositiveInfinity;
        bool rises = false;
        for (int rank = 0; rank < ranks.Length; rank += 2)
        {
            float covered = line[ranks[rank + 1]][x];
            rises |= covered > before + Tolerance;
            (before, sum) = (covered, sum + covered);
            if (covered > 0)
            {
                Count(line[ranks[rank]][x], 1);
            }
        }

        bool isOver = sum > MostSum;
        (_rising, _over, _worst) = (_rising + (rises ? 1 : 0), _over + (isOver ? 1 : 0), MathF.Max(_worst, sum));
        if (rises || isOver)
        {
            _at ??= [line.Window.MinX + x, line.Y];
        }
    }

    private void Count(float id, int pixels)
    {
        uint bits = BitConverter.SingleToUInt32Bits(id);
        if (_ids.TryGetValue(bits, out long known))
        {
            _ids[bits] = known + pixels;
        }
        else if (_ids.Count < Most)
        {
            _ids[bits] = pixels;
        }
        else
        {
            _hasMore = true;
        }
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics) =>
        facts with
        {
            Crypto = new CryptoFacts(
                _rising,
                _over,
                _worst,
                [
                    .. _ids.OrderByDescending(i => i.Value)
                        .ThenBy(i => i.Key)
                        .Select(i => new IdCount(i.Key.ToString("x8", CultureInfo.InvariantCulture), i.Value)),
                ],
                _hasMore,
                _at
            ),
        };
}
