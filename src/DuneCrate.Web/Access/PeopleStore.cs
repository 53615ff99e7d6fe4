using DuneCrate.Foundation.History;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Web.Access;

/// <summary>Keeps accounts, and with a change of one who made it. One per request.</summary>
public sealed class PeopleStore(DuneCrateContext context, HistoryStore history, IdentityErrorDescriber errors)
    : UserOnlyStore<PersonRow, DuneCrateContext, int>(context, errors)
{
    /// <summary>Makes a change and writes down who made it, in one transaction; nothing of one that does not succeed.</summary>
    /// <param name="change">
    /// The change, by the framework's own parts. Passwords are hashed in it, so it runs before the transaction, which keeps others from
    /// writing, and is saved in it.
    /// </param>
    /// <param name="audited">What the history says of it.</param>
    public async Task<IdentityResult> ChangeAsync(Func<Task<IdentityResult>> change, AuditEvent audited)
    {
        AutoSaveChanges = false;
        try
        {
            IdentityResult result = await change();
            if (result.Succeeded)
            {
                await history.TryChangeAsync(Context, (_, _) => Task.FromResult(true), [audited], CancellationToken.None);
            }

            return result;
        }
        catch (DbUpdateConcurrencyException)
        {
            return IdentityResult.Failed(ErrorDescriber.ConcurrencyFailure());
        }
        finally
        {
            AutoSaveChanges = true;
        }
    }
}
