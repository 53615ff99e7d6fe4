namespace DuneCrate.Core.Naming;

/// <summary>How far two names are apart.</summary>
public static class EditDistance
{
    /// <summary>
    /// The least number of single-character insertions, deletions, replacements and swaps of neighbours that turn one text into
    /// the other (optimal string alignment form of the Damerau-Levenshtein distance). O(n·m) time, O(m) space.
    /// </summary>
    public static int Between(ReadOnlySpan<char> a, ReadOnlySpan<char> b)
    {
        int[] before = new int[b.Length + 1], last = new int[b.Length + 1], row = new int[b.Length + 1];
        for (int j = 0; j <= b.Length; j++)
        {
            last[j] = j;
        }

        for (int i = 1; i <= a.Length; i++)
        {
            row[0] = i;
            for (int j = 1; j <= b.Length; j++)
            {
                int cost = a[i - 1] == b[j - 1] ? 0 : 1;
                row[j] = Math.Min(Math.Min(last[j] + 1, row[j - 1] + 1), last[j - 1] + cost);
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                {
                    row[j] = Math.Min(row[j], before[j - 2] + 1);
                }
            }

            (before, last, row) = (last, row, before);
        }

        return last[b.Length];
    }
}
