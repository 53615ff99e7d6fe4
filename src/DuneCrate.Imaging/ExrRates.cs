using System.Globalization;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Imaging;

/// <summary>Frame rates in headers.</summary>
public static class ExrRates
{
    extension(ExrAttribute attribute)
    {
        /// <summary>A <c>rational</c> attribute, such as framesPerSecond.</summary>
        public static ExrAttribute Rational(string name, FrameRate rate) => ExrAttribute.Rational(name, rate.Numerator, rate.Denominator);

        /// <summary>The rate of a <c>rational</c> attribute or of one written as text, or null when it is none or not positive.</summary>
        public FrameRate? AsRate() =>
            (attribute.AsText() ?? (attribute.AsInt() ?? attribute.AsFloat())?.ToString("0.###", CultureInfo.InvariantCulture)) is { } text
                ? FrameRate.TryParse(text, out FrameRate written, out _)
                    ? written
                    : null
                : attribute.AsRational() is (> 0 and var n, > 0 and <= int.MaxValue and var d)
                    ? new FrameRate(n, (int)d)
                    : null;
    }
}
