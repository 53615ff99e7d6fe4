namespace DuneCrate.Checking.Intake.Gathering;

/// <summary>
/// Works entries of a list out on all cores, in their order. The library's parallel queries do the same, but make an ahead-of-time build
/// compile thousands of methods, which takes minutes.
/// </summary>
internal static class SideBySide
{
    /// <summary>What becomes of each entry.</summary>
    /// <param name="entries">The entries.</param>
    /// <param name="make">Makes one of an entry and its place; called from several threads at once.</param>
    /// <exception cref="AggregateException">One of them could not be made.</exception>
    public static TResult[] Map<T, TResult>(IReadOnlyList<T> entries, Func<T, int, TResult> make)
    {
        var results = new TResult[entries.Count];
        Parallel.For(0, results.Length, i => results[i] = make(entries[i], i));
        return results;
    }
}
