using System.Collections.Concurrent;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Web.Access;

/// <summary>Tokens by which scripts act in one show: made, taken back, recognised. Only their hashes are kept.</summary>
public sealed class ScriptTokens(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history, TimeProvider clock)
{
    private const string Prefix = "dune_";

    private static readonly TimeSpan Noted = TimeSpan.FromMinutes(1);

    private readonly ConcurrentDictionary<string, (Visitor Visitor, DateTime Noted)> _known = new();

    // Whoever was being recognised while a token was taken back must not be kept as known.
    private readonly ConcurrentDictionary<string, bool> _takenBack = new();

    /// <summary>Makes a token.</summary>
    /// <returns>The token itself, which is shown once.</returns>
    public async Task<string> MakeAsync(string show, string name, string by, AuditEvent audited, CancellationToken cancel)
    {
        string token = Prefix + SecretWords.New();
        await history.ChangeAsync(
            async (context, stop) =>
            {
                ShowRow row = await context.Shows.FirstAsync(s => s.Code == show, stop);
                context.ScriptTokens.Add(
                    new TokenRow
                    {
                        ShowId = row.Id,
                        Name = name,
                        Hash = SecretWords.HashOf(token),
                        By = by,
                        At = clock.UtcNow,
                    }
                );
            },
            audited,
            cancel
        );
        return token;
    }

    /// <summary>The tokens of a show, newest first.</summary>
    public async Task<List<TokenRow>> ListAsync(string show, CancellationToken cancel)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.ScriptTokens.AsNoTracking().Where(t => t.Show.Code == show).OrderByDescending(t => t.Id).ToListAsync(cancel);
    }

    /// <summary>Takes a token back, at once.</summary>
    /// <param name="show">Code of the show.</param>
    /// <param name="id">Key of the token; nothing happens when the show has none of it that still holds.</param>
    /// <param name="audited">What the history says, by the token's name.</param>
    /// <param name="cancel">Leaves.</param>
    public async Task RevokeAsync(string show, int id, Func<string, AuditEvent> audited, CancellationToken cancel)
    {
        TokenRow? token = await history.TryChangeAsync(
            async (context, stop) =>
            {
                TokenRow? row = await context.ScriptTokens.FirstOrDefaultAsync(
                    t => t.Show.Code == show && t.Id == id && t.TakenBackAt == null,
                    stop
                );
                row?.TakenBackAt = clock.UtcNow;

                return row;
            },
            row => audited(row.Name),
            cancel
        );
        if (token is not null)
        {
            _takenBack[token.Hash] = true;
            _known.TryRemove(token.Hash, out _);
        }
    }

    /// <summary>Who acts with a token; nobody when it does not hold. Its last use is noted to the minute.</summary>
    public async Task<Visitor> VisitorAsync(string token, CancellationToken cancel)
    {
        string hash = SecretWords.HashOf(token);
        if (_takenBack.ContainsKey(hash))
        {
            return Visitor.Nobody;
        }

        if (_known.TryGetValue(hash, out var known) && clock.UtcNow - known.Noted < Noted)
        {
            return known.Visitor;
        }

        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        TokenRow? row = await context
            .ScriptTokens.Include(t => t.Show)
            .FirstOrDefaultAsync(t => t.Hash == hash && t.TakenBackAt == null, cancel);
        if (row is null)
        {
            return Visitor.Nobody;
        }

        row.UsedAt = clock.UtcNow;
        await context.SaveChangesAsync(cancel);
        Visitor visitor = Visitor.Nobody with { Name = row.Name, TokenShow = row.Show.Code };
        _known[hash] = (visitor, clock.UtcNow);
        return visitor;
    }
}
