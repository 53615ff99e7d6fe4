using System.Collections.Immutable;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace DuneCrate.Web.Access;

/// <summary>Everybody with an account and their roles, read once after each change: this process alone writes them.</summary>
public sealed class People(IDbContextFactory<DuneCrateContext> contexts, IOptions<IdentityOptions> identity)
{
    private readonly SemaphoreSlim _turn = new(1, 1);
    private volatile ImmutableDictionary<int, KnownPerson>? _known;

    /// <summary>Claim with the stamp that a person signed in with.</summary>
    public string StampClaim => identity.Value.ClaimsIdentity.SecurityStampClaimType;

    /// <summary>A person, or null.</summary>
    public async ValueTask<KnownPerson?> FindAsync(int id, CancellationToken cancel) => (await KnownAsync(cancel)).GetValueOrDefault(id);

    /// <summary>Whether nobody has an account yet.</summary>
    public async ValueTask<bool> IsEmptyAsync(CancellationToken cancel) => (await KnownAsync(cancel)).IsEmpty;

    /// <summary>Reads everybody again when they are asked for next; after every change.</summary>
    public void Forget() => _known = null;

    private async ValueTask<ImmutableDictionary<int, KnownPerson>> KnownAsync(CancellationToken cancel)
    {
        if (_known is { } known)
        {
            return known;
        }

        await _turn.WaitAsync(cancel);
        try
        {
            return _known ??= await ReadAsync(cancel);
        }
        finally
        {
            _turn.Release();
        }
    }

    private async Task<ImmutableDictionary<int, KnownPerson>> ReadAsync(CancellationToken cancel)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        List<PersonRow> people = await context
            .Users.AsNoTracking()
            .Include(p => p.Memberships)
                .ThenInclude(m => m.Show)
            .AsSplitQuery()
            .ToListAsync(cancel);
        return people.ToImmutableDictionary(
            p => p.Id,
            p => new KnownPerson(
                p.SecurityStamp ?? "",
                p.ClosedAt is null,
                new Visitor(p.Name, p.Id, p.IsKeeper, p.Memberships.ToImmutableDictionary(m => m.Show.Code, m => m.Role))
            )
        );
    }
}
