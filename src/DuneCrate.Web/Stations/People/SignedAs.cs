using DuneCrate.Foundation.Documents;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Stations.People;

/// <summary>What came of a try at a secret.</summary>
/// <param name="Person">Who signed in, or null.</param>
/// <param name="Wait">How long whoever tries has to wait first, or null.</param>
/// <param name="Ticket">What lets them try once they have waited, or null.</param>
public sealed record SignedAs(PersonRow? Person, TimeSpan? Wait, string? Ticket)
{
    /// <summary>That somebody has to wait, in words.</summary>
    /// <param name="what">What was wrong so often, such as "passwords".</param>
    /// <param name="wait">How long.</param>
    public static string WaitWords(string what, TimeSpan wait) =>
        $"Too many wrong {what}. Wait {Words.Count((int)Math.Ceiling(wait.TotalSeconds), "second")}, then try once "
        + "more from this page: whoever "
        + "has waited gets a try, whatever others do meanwhile.";
}
