namespace DuneCrate.Crates.Recipes;

/// <summary>Where crates stand at a place that gets them.</summary>
/// <param name="Site">Name of the place.</param>
/// <param name="Prefix">What stands before a crate's own paths there, such as <c>T:/in/kelp</c>.</param>
public sealed record RecipeSite(string Site, string Prefix)
{
    private static readonly char[] Steps = ['/', '\\'];

    /// <summary>
    /// The site after its storage has moved: a prefix that is the old place or lies below it gets the new one in its stead. Whole steps
    /// are compared, so that <c>/in/kelp</c> is not the beginning of <c>/in/kelp2</c>.
    /// </summary>
    public RecipeSite Moved(string from, string to)
    {
        (from, to) = (from.TrimEnd(Steps), to.TrimEnd(Steps));
        bool isBelow =
            from.Length > 0
            && Prefix.StartsWith(from, StringComparison.Ordinal)
            && (Prefix.Length == from.Length || Steps.Contains(Prefix[from.Length]));
        return isBelow ? this with { Prefix = to + Prefix[from.Length..] } : this;
    }
}
