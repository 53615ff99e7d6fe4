using System.Globalization;

namespace DuneCrate.Foundation.Frames;

/// <summary>What becomes of a sequence that plays frame by frame at another rate than its own. Rates: SMPTE ST 12-1.</summary>
public static class RateDifference
{
    /// <summary>What it does, in words: by how much it is too fast or too slow, and after how many frames it is one off; null where both
    /// rates are the same or one is unknown.</summary>
    /// <param name="own">The sequence's own rate.</param>
    /// <param name="played">The rate that it plays at.</param>
    public static string? Tell(FrameRate own, FrameRate played)
    {
        if (own == played || own.Denominator == 0 || played.Denominator == 0)
        {
            return null;
        }

        long ours = (long)own.Numerator * played.Denominator,
            theirs = (long)played.Numerator * own.Denominator,
            common = (long)System.Numerics.BigInteger.GreatestCommonDivisor(ours, theirs);
        (ours, theirs) = (ours / common, theirs / common);
        long apart = Math.Abs(ours - theirs);
        bool isFast = theirs > ours;
        return string.Create(
            CultureInfo.InvariantCulture,
            $"{own.ToDisplay()} on {played.ToDisplay()} plays {100.0 * apart / ours:0.##} % too {(isFast ? "fast" : "slow")}: "
                + $"{(apart == 1 ? "one frame is" : $"{apart:N0} frames are")} {(isFast ? "lost" : "left over")} in every "
                + $"{Math.Max(ours, theirs):N0}"
        );
    }
}
