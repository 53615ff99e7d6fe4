namespace DuneCrate.Foundation.Naming;

/// <summary>How far two names are apart.</summary>
public static class EditDistance
{
    /// <summary>Letters of a name that are compared; what comes after them counts as different when it is.</summary>
    public const int MostLetters = 512;

    /// <summary>
    /// The least number of single-character insertions, deletions, replacements and swaps of neighbours that turn one text into
    /// the other (optimal string alignment form of the Damerau-Levenshtein distance).
    /// </summary>
    /// <param name="a">One text.</param>
    /// <param name="b">The other.</param>
    /// <param name="most">The greatest distance of interest: for anything farther <paramref name="most"/> + 1 is returned, at once.</param>
    /// <remarks>O(n · most) time (Ukkonen's band), O(m) space.</remarks>
    public static int Between(ReadOnlySpan<char> a, ReadOnlySpan<char> b, int most = int.MaxValue - 1)
    {
        a = a[..Math.Min(a.Length, MostLetters)];
        b = b[..Math.Min(b.Length, MostLetters)];
        most = Math.Min(most, Math.Max(a.Length, b.Length));
        if (Math.Abs(a.Length - b.Length) > most)
        {
            return most + 1;
        }

        int far = most + 1;
        int[] before = new int[b.Length + 1],
            last = new int[b.Length + 1],
            row = new int[b.Length + 1];
        for (int j = 0; j <= b.Length; j++)
        {
            last[j] = Math.Min(j, far);
        }

        int leastBefore = 0;
        for (int i = 1; i <= a.Length; i++)
        {
            int from = Math.Max(1, i - most),
                to = Math.Min(b.Length, i + most),
                least = far;
            Array.Fill(row, far);
            row[0] = Math.Min(i, far);
            for (int j = from; j <= to; j++)
            {
                int cost = a[i - 1] == b[j - 1] ? 0 : 1;
                int distance = Math.Min(Math.Min(last[j] + 1, row[j - 1] + 1), last[j - 1] + cost);
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                {
                    distance = Math.Min(distance, before[j - 2] + 1);
                }

                row[j] = Math.Min(distance, far);
                least = Math.Min(least, row[j]);
            }

            // A swap reaches back two rows: only when both are too far is everything behind them.
            least = Math.Min(least, row[0]);
            if (least == far && leastBefore == far)
            {
                return far;
            }

            leastBefore = least;
            (before, last, row) = (last, row, before);
        }

        return last[b.Length];
    }
}
