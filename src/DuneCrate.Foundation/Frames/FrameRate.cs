using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using System.Text.Json.Serialization;

namespace DuneCrate.Foundation.Frames;

/// <summary>
/// Frames per second as a fraction in lowest terms: 24/1, 24000/1001. Equal when the fractions are.
/// The default value (0/0) stands for an unknown rate. Safe to share between threads.
/// </summary>
[JsonConverter(typeof(FrameRateJsonConverter))]
public readonly record struct FrameRate
{
    /// <summary>Makes a rate and reduces it.</summary>
    /// <exception cref="ArgumentOutOfRangeException">Either number is below 1.</exception>
    public FrameRate(int numerator, int denominator)
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(numerator, 1);
        ArgumentOutOfRangeException.ThrowIfLessThan(denominator, 1);
        int gcd = (int)System.Numerics.BigInteger.GreatestCommonDivisor(numerator, denominator);
        (Numerator, Denominator) = (numerator / gcd, denominator / gcd);
    }

    /// <summary>Frames in <see cref="Denominator"/> seconds.</summary>
    public int Numerator { get; }

    /// <summary>Seconds in which <see cref="Numerator"/> frames pass.</summary>
    public int Denominator { get; }

    /// <summary>Frames per second as a number, for arithmetic on time; never for comparing rates.</summary>
    public double PerSecond => Denominator == 0 ? 0 : (double)Numerator / Denominator;

    /// <summary>
    /// Reads <c>24/1</c>, <c>24000/1001</c>, <c>25</c> or a decimal. The decimals 23.976, 29.97, 47.952, 59.94 and their longer
    /// forms mean n×1000/1001 (SMPTE ST 12-1's rates; common practice).
    /// </summary>
    public static bool TryParse(string? text, out FrameRate rate, [NotNullWhen(false)] out string? problem)
    {
        rate = default;
        problem = null;
        string[] parts = (text ?? "").Trim().Split('/');
        if (
            parts.Length == 2
            && int.TryParse(parts[0], NumberStyles.None, CultureInfo.InvariantCulture, out int n)
            && int.TryParse(parts[1], NumberStyles.None, CultureInfo.InvariantCulture, out int d)
            && n > 0
            && d > 0
        )
        {
            rate = new FrameRate(n, d);
        }
        else if (
            parts.Length == 1
            && decimal.TryParse(parts[0], NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out decimal value)
            && value is >= 0.001m and < 10000
        )
        {
            decimal whole = Math.Ceiling(value);
            bool ntsc = value != whole && Math.Abs(value - whole * 1000 / 1001) < 0.005m;
            rate = ntsc ? new FrameRate((int)whole * 1000, 1001) : new FrameRate((int)Math.Round(value * 1000), 1000);
        }
        else
        {
            problem = $"'{text}' is not a frame rate; write 24, 25/1 or 24000/1001.";
        }

        return problem is null;
    }

    /// <summary>Reads the text form.</summary>
    /// <exception cref="FormatException">The text is not a rate.</exception>
    public static FrameRate Parse(string text) =>
        TryParse(text, out FrameRate rate, out string? problem) ? rate : throw new FormatException(problem);

    /// <summary>
    /// Non-drop timecode <c>hh:mm:ss:ff</c> of the <paramref name="index"/>-th frame (from 0) at the rate rounded up to whole
    /// frames, as counted on set and in editing (SMPTE ST 12-1, non-drop-frame counting).
    /// </summary>
    public string Timecode(long index)
    {
        int whole = Math.Max(1, (int)Math.Ceiling(PerSecond));
        long seconds = index / whole;
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{seconds / 3600:00}:{seconds / 60 % 60:00}:{seconds % 60:00}:{index % whole:00}"
        );
    }

    /// <summary>Whether frames of this rate may be counted with dropped numbers: 30000/1001 and 60000/1001 (SMPTE ST 12-1).</summary>
    public bool AllowsDropFrame => Denominator == 1001 && Numerator is 30000 or 60000;

    /// <summary>
    /// Drop-frame timecode <c>hh:mm:ss;ff</c> of the <paramref name="index"/>-th frame (from 0): the first two numbers of every minute
    /// (four at
    /// 60000/1001) are passed over, except in every tenth minute, so that an hour of timecode is an hour of the clock (SMPTE ST 12-1, 5.2).
    /// </summary>
    /// <exception cref="InvalidOperationException">The rate has no drop-frame count.</exception>
    public string DropFrameTimecode(long index)
    {
        if (!AllowsDropFrame)
        {
            throw new InvalidOperationException($"{ToDisplay()} has no drop-frame count; only 30000/1001 and 60000/1001 have.");
        }

        int whole = Numerator / 1000,
            dropped = whole / 15;
        long perMinute = whole * 60 - dropped,
            perTen = whole * 600 - 9 * dropped,
            tens = index / perTen,
            rest = index % perTen;
        long number = index + tens * 9 * dropped + (rest < whole * 60 ? 0 : (1 + (rest - whole * 60) / perMinute) * dropped);
        long seconds = number / whole;
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{seconds / 3600:00}:{seconds / 60 % 60:00}:{seconds % 60:00};{number % whole:00}"
        );
    }

    /// <summary>The form <c>24/1</c> used in documents.</summary>
    public override string ToString() => string.Create(CultureInfo.InvariantCulture, $"{Numerator}/{Denominator}");

    /// <summary>The form shown to people: <c>24 fps</c>, <c>24000/1001 fps</c>.</summary>
    public string ToDisplay() => Denominator == 1 ? string.Create(CultureInfo.InvariantCulture, $"{Numerator} fps") : $"{this} fps";
}
