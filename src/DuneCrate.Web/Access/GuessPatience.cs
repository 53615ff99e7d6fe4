using System.Collections.Concurrent;
using System.Globalization;
using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace DuneCrate.Web.Access;

/// <summary>
/// Slows down guessing without locking anybody out. A few wrong tries are free; after them a try has to be waited for: the answer carries a
/// ticket that holds once, from some seconds on, and whoever has waited is let try whatever others did meanwhile. A browser that signed in
/// with the account before has tries of its own, so that strangers do not slow its person down. Real and invented accounts are treated
/// alike. Sources: OWASP, <em>Slow Down Online Guessing Attacks with Device Cookies</em>; OWASP ASVS 5.0, V6.3.1 and V6.3.8.
/// Safe to use from any thread; gone with the process.
/// </summary>
public sealed class GuessPatience(TimeProvider time, IDataProtectionProvider protection)
{
    /// <summary>Wrong tries that are free from one address, and from a browser that is known.</summary>
    public const int FreeHere = 5,
        FreeKnown = 10;

    /// <summary>Wrong tries for one account that are free from all addresses together.</summary>
    public const int FreeAltogether = 50;

    private const int MostKept = 100_000;

    /// <summary>How long a wrong try counts, and how long a ticket holds once it does.</summary>
    public static readonly TimeSpan Remembered = TimeSpan.FromMinutes(10);

    private static readonly TimeSpan Least = TimeSpan.FromSeconds(10),
        Most = TimeSpan.FromMinutes(10),
        EachMore = TimeSpan.FromSeconds(1);

    private readonly IDataProtector _tickets = protection.CreateProtector("DuneCrate.Patience");
    private readonly ConcurrentDictionary<string, Wrong> _wrong = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, DateTimeOffset> _used = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, Wrong> _waiting = new(StringComparer.Ordinal);

    private sealed record Wrong(int Count, DateTimeOffset Last);

    /// <summary>Whether a try may be made now.</summary>
    /// <param name="guess">What is tried, by whom.</param>
    /// <returns>How long to wait and the ticket for it; null when it may.</returns>
    public (TimeSpan Wait, string Ticket)? Ask(Guess guess)
    {
        bool isFree = guess.Device is { } device
            ? Count(KnownKey(guess.Subject, device)) < FreeKnown
            : Count(HereKey(guess)) < FreeHere && Count(guess.Subject) < FreeAltogether;
        if (isFree || IsWaitedFor(guess))
        {
            return null;
        }

        // The more people wait for one account, the longer: however many tickets somebody takes, tries come once a second at most.
        Wrong others = _waiting.AddOrUpdate(guess.Subject, _ => new Wrong(1, Now), (_, w) => new Wrong(IsOld(w) ? 1 : w.Count + 1, Now));
        TimeSpan wait = Least + (others.Count - 1) * EachMore;
        wait = wait < Most ? wait : Most;
        string ticket = _tickets.Protect(
            string.Join(
                '\n',
                Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16)),
                (Now + wait).ToUnixTimeMilliseconds().ToString(CultureInfo.InvariantCulture),
                guess.Address,
                guess.Subject
            )
        );
        return (wait, ticket);
    }

    /// <summary>Notes a wrong try.</summary>
    public void Failed(Guess guess)
    {
        Prune();
        foreach (string key in guess.Device is { } device ? [KnownKey(guess.Subject, device)] : (string[])[HereKey(guess), guess.Subject])
        {
            _wrong.AddOrUpdate(key, _ => new Wrong(1, Now), (_, w) => new Wrong(IsOld(w) ? 1 : w.Count + 1, Now));
        }
    }

    /// <summary>Notes a right try: whoever made it starts anew; what strangers did elsewhere stays.</summary>
    public void Succeeded(Guess guess)
    {
        _wrong.TryRemove(HereKey(guess), out _);
        if (guess.Device is { } device)
        {
            _wrong.TryRemove(KnownKey(guess.Subject, device), out _);
        }
    }

    private DateTimeOffset Now => time.GetUtcNow();

    private int Count(string key) => _wrong.TryGetValue(key, out Wrong? wrong) && !IsOld(wrong) ? wrong.Count : 0;

    private bool IsOld(Wrong wrong) => Now - wrong.Last > Remembered || wrong.Last - Now > Remembered;

    private bool IsWaitedFor(Guess guess)
    {
        string[] parts;
        try
        {
            parts = guess.Ticket is { Length: > 0 and < 4096 } ticket ? _tickets.Unprotect(ticket).Split('\n', 4) : [];
        }
        catch (CryptographicException)
        {
            return false;
        }

        if (
            parts is not [var name, var from, var address, var subject]
            || address != guess.Address
            || subject != guess.Subject
            || !long.TryParse(from, NumberStyles.None, CultureInfo.InvariantCulture, out long at)
        )
        {
            return false;
        }

        TimeSpan since = Now - DateTimeOffset.FromUnixTimeMilliseconds(at);
        return since >= TimeSpan.Zero && since <= Remembered && _used.TryAdd(name, Now);
    }

    private void Prune()
    {
        if (_wrong.Count + _used.Count + _waiting.Count < MostKept)
        {
            return;
        }

        foreach ((string key, Wrong wrong) in _wrong.Where(w => IsOld(w.Value)))
        {
            _wrong.TryRemove(KeyValuePair.Create(key, wrong));
        }

        foreach ((string key, Wrong wrong) in _waiting.Where(w => IsOld(w.Value)))
        {
            _waiting.TryRemove(KeyValuePair.Create(key, wrong));
        }

        foreach ((string key, _) in _used.Where(u => Now - u.Value > 2 * Remembered))
        {
            _used.TryRemove(key, out _);
        }
    }

    private static string HereKey(Guess guess) => $"{guess.Address}\n{guess.Subject}";

    private static string KnownKey(string subject, string device) => $"device {device}\n{subject}";
}
