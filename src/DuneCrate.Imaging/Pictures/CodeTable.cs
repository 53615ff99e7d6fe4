using System.Collections.Concurrent;

namespace DuneCrate.Imaging.Pictures;

/// <summary>
/// From a float to the byte that shows it, exactly as round(255 · clamp(view(v · 2^stops)^(1/gamma))) and without the curve's cost: the
/// least float of each code is found once by halving, and the upper bits of a float lead to the code or, where one
/// begins among them, to the one below it. The curve
/// must not fall. Immutable; safe to share.
/// </summary>
public sealed class CodeTable
{
    private const int Kept = 64,
        Infinity = 0x7F800000;

    /// <summary>Bits that do not lead: fine enough that few of the steps between codes lie within one entry.</summary>
    private const int Rest = 13;

    private static readonly ConcurrentDictionary<(PictureView, double, double), Lazy<CodeTable>> Tables = [];

    private readonly float[] _least = new float[257];
    private readonly byte[] _start = new byte[(Infinity >> Rest) + 1];
    private readonly byte _zero;

    private CodeTable(Func<double, double> curve)
    {
        _zero = Code(curve(0));
        Array.Fill(_least, float.NaN);
        for (int code = 0; code < 256; code++)
        {
            _least[code] = code <= _zero ? 0 : Least(curve, code);
        }

        int from = 0;
        for (int code = _zero; code < 256; code++)
        {
            // Up to and with the entry in which the next code begins, unless it begins with it.
            float next = _least[code + 1];
            int bits = BitConverter.SingleToInt32Bits(next),
                to = float.IsNaN(next) ? _start.Length : Math.Min(_start.Length, (bits + (1 << Rest) - 1) >> Rest);
            if (to > from)
            {
                _start.AsSpan(from, to - from).Fill((byte)code);
                from = to;
            }
        }
    }

    /// <summary>The table of a view with exposure and gamma.</summary>
    /// <param name="view">The view.</param>
    /// <param name="stops">Exposure.</param>
    /// <param name="gamma">What the display's value is raised to the inverse of; above 0.</param>
    public static CodeTable Of(PictureView view, double stops, double gamma)
    {
        if (Tables.Count > Kept)
        {
            Tables.Clear();
        }

        return Tables
            .GetOrAdd(
                (view, stops, gamma),
                key =>
                {
                    double gain = Math.Pow(2, key.Item2);
                    return new Lazy<CodeTable>(() =>
                        new CodeTable(v => Math.Pow(Math.Clamp(ViewCurve.Apply(key.Item1, v * gain), 0, 1), 1 / key.Item3))
                    );
                }
            )
            .Value;
    }

    /// <summary>The code of a value; of what is no number that of 0.</summary>
    public byte this[float value]
    {
        get
        {
            if (!(value > 0))
            {
                return _zero;
            }

            byte code = _start[BitConverter.SingleToInt32Bits(value) >> Rest];
            while (value >= _least[code + 1])
            {
                code++;
            }

            return code;
        }
    }

    private static byte Code(double shown) => (byte)Math.Round(255 * shown, MidpointRounding.AwayFromZero);

    /// <summary>The least positive float that is shown by a code or a higher one; NaN, which nothing reaches, for none.</summary>
    private static float Least(Func<double, double> curve, int code)
    {
        (int low, int high) = (0, Infinity);
        if (Code(curve(float.PositiveInfinity)) < code)
        {
            return float.NaN;
        }

        while (high - low > 1)
        {
            int middle = low + (high - low) / 2;
            if (Code(curve(BitConverter.Int32BitsToSingle(middle))) >= code)
            {
                high = middle;
            }
            else
            {
                low = middle;
            }
        }

        return BitConverter.Int32BitsToSingle(high);
    }
}
