namespace DuneCrate.Web.Access;

/// <summary>A try at a secret.</summary>
/// <param name="Subject">What is guessed: an account as it was written, or the code of the first one.</param>
/// <param name="Address">Where from.</param>
/// <param name="Device">Name of a browser that signed in with the account before; null for any other.</param>
/// <param name="Ticket">What an earlier answer gave to whoever waits; null without.</param>
public sealed record Guess(string Subject, string Address, string? Device, string? Ticket)
{
    private const int MostSubject = 200;

    /// <summary>A try to sign in with an account, which may be invented.</summary>
    public static string AccountSubject(string? account)
    {
        string name = (account ?? "").Trim().ToUpperInvariant();
        return "account " + name[..Math.Min(name.Length, MostSubject)];
    }
}
