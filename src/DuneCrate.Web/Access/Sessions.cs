using System.Collections.Concurrent;
using System.Security.Claims;
using System.Security.Cryptography;
using DuneCrate.Foundation.Time;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Web.Access;

/// <summary>
/// What people are signed in with. Each sign-in has a random name, which stands in its cookie; signing out ends that name on the server, so
/// that a copy of the cookie holds no more either. Source: OWASP ASVS 5.0, V7.4.1.
/// </summary>
public sealed class Sessions(IDbContextFactory<DuneCrateContext> contexts, TimeProvider time)
{
    /// <summary>Claim with the session's name.</summary>
    public const string Claim = "dune-session";

    /// <summary>How long a session that nobody uses lasts.</summary>
    public static readonly TimeSpan Idle = TimeSpan.FromHours(12);

    private readonly SemaphoreSlim _turn = new(1, 1);
    private volatile ConcurrentDictionary<string, bool>? _ended;

    /// <summary>A new session's name.</summary>
    public static string NewName() => Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16));

    /// <summary>Whether a session holds: it has a name, and nobody signed out of it.</summary>
    public async ValueTask<bool> HoldsAsync(ClaimsPrincipal principal, CancellationToken cancel) =>
        principal.FindFirstValue(Claim) is { Length: > 0 } name && !(await EndedAsync(cancel)).ContainsKey(name);

    /// <summary>Ends a session, here and in what is left of it elsewhere.</summary>
    public async Task EndAsync(ClaimsPrincipal principal, CancellationToken cancel)
    {
        if (principal.FindFirstValue(Claim) is not { Length: > 0 } name || !(await EndedAsync(cancel)).TryAdd(name, true))
        {
            return;
        }

        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        DateTime now = time.UtcNow,
            old = now - 2 * Idle;
        context.EndedSessions.Add(new EndedSessionRow { Id = name, EndedAt = now });
        await context.SaveChangesAsync(cancel);

        // No cookie can be so old: it would have been renewed since, or has run out.
        await context.EndedSessions.Where(s => s.EndedAt < old).ExecuteDeleteAsync(cancel);
    }

    private async ValueTask<ConcurrentDictionary<string, bool>> EndedAsync(CancellationToken cancel)
    {
        if (_ended is { } known)
        {
            return known;
        }

        await _turn.WaitAsync(cancel);
        try
        {
            if (_ended is null)
            {
                await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
                _ended = new ConcurrentDictionary<string, bool>(
                    await context.EndedSessions.Select(s => s.Id).ToDictionaryAsync(id => id, _ => true, cancel)
                );
            }

            return _ended;
        }
        finally
        {
            _turn.Release();
        }
    }
}
