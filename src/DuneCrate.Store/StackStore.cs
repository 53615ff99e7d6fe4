using System.Text.Json;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Test composites. Safe to call from several threads.</summary>
public sealed class StackStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history, TimeProvider clock)
{
    private const int MostSteps = 100;

    /// <summary>The test composites of a shot, by age.</summary>
    public async Task<List<KeptStack>> StacksAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        List<StackRow> rows = await context.Stacks.AsNoTracking().Where(s => s.ShotId == shotId).OrderBy(s => s.Id).ToListAsync(cancel);
        return [.. rows.Select(Kept)];
    }

    /// <summary>Keeps a new one, under its name or the next one that is free.</summary>
    /// <returns>Its key.</returns>
    public async Task<int> AddStackAsync(int shotId, string name, StackRecipe recipe, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await using var transaction = await context.Database.BeginTransactionAsync(System.Data.IsolationLevel.Serializable, cancel);
        HashSet<string> names = [.. await context.Stacks.Where(s => s.ShotId == shotId).Select(s => s.Name).ToListAsync(cancel)];
        var row = new StackRow
        {
            ShotId = shotId,
            Name = FreeName.Of(name, names),
            Document = recipe.Write(),
            Revision = 1,
            At = clock.UtcNow,
        };
        context.Stacks.Add(row);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return row.Id;
    }

    /// <summary>Changes one that is still as it was seen. What it was can be had back.</summary>
    /// <param name="shotId">The shot.</param>
    /// <param name="id">Its key.</param>
    /// <param name="revision">The revision that was seen.</param>
    /// <param name="recipe">What it becomes.</param>
    /// <param name="cancel">Leaves.</param>
    /// <returns>False when it is not there or was changed by somebody else meanwhile.</returns>
    public Task<bool> ChangeStackAsync(int shotId, int id, int revision, StackRecipe recipe, CancellationToken cancel = default) =>
        ChangeStackAsync(
            shotId,
            id,
            revision,
            row =>
            {
                (row.PastJson, row.FutureJson) = (Texts([.. Texts(row.PastJson).TakeLast(MostSteps - 1), row.Document]), "[]");
                row.Document = recipe.Write();
                return true;
            },
            cancel
        );

    /// <summary>Undoes the last change, or does the last one undone again.</summary>
    /// <param name="shotId">The shot.</param>
    /// <param name="id">Its key.</param>
    /// <param name="revision">The revision that was seen.</param>
    /// <param name="isUndone">Undoes; else does again.</param>
    /// <param name="cancel">Leaves.</param>
    /// <returns>False when there is nothing, or it was changed by somebody else meanwhile.</returns>
    public Task<bool> StepStackAsync(int shotId, int id, int revision, bool isUndone, CancellationToken cancel = default) =>
        ChangeStackAsync(
            shotId,
            id,
            revision,
            row =>
            {
                (string[] from, string[] to) = (
                    Texts(isUndone ? row.PastJson : row.FutureJson),
                    Texts(isUndone ? row.FutureJson : row.PastJson)
                );
                if (from.Length == 0)
                {
                    return false;
                }

                (string rest, string more) = (Texts(from[..^1]), Texts([.. to, row.Document]));
                (row.PastJson, row.FutureJson, row.Document) = isUndone ? (rest, more, from[^1]) : (more, rest, from[^1]);
                return true;
            },
            cancel
        );

    /// <summary>Gives one another name; false when it is not there or another has the name.</summary>
    public async Task<bool> RenameStackAsync(int shotId, int id, string name, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return !await context.Stacks.AnyAsync(s => s.ShotId == shotId && s.Name == name && s.Id != id, cancel)
            && await context
                .Stacks.Where(s => s.ShotId == shotId && s.Id == id)
                .ExecuteUpdateAsync(s => s.SetProperty(r => r.Name, name), cancel) > 0;
    }

    /// <summary>Throws one away.</summary>
    public Task DeleteStackAsync(int shotId, int id, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.ChangeAsync(
            (context, stop) => context.Stacks.Where(s => s.ShotId == shotId && s.Id == id).ExecuteDeleteAsync(stop),
            audited,
            cancel
        );

    private async Task<bool> ChangeStackAsync(int shotId, int id, int revision, Func<StackRow, bool> change, CancellationToken cancel)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        StackRow? row = await context.Stacks.FirstOrDefaultAsync(s => s.ShotId == shotId && s.Id == id && s.Revision == revision, cancel);
        if (row is null || !change(row))
        {
            return false;
        }

        (row.Revision, row.At) = (revision + 1, clock.UtcNow);
        try
        {
            await context.SaveChangesAsync(cancel);
            return true;
        }
        catch (DbUpdateConcurrencyException)
        {
            return false;
        }
    }

    private static KeptStack Kept(StackRow row) =>
        new(row.Id, row.Name, StackRecipe.Read(row.Document), row.Revision, Texts(row.PastJson).Length, Texts(row.FutureJson).Length);

    private static string[] Texts(string json) => JsonSerializer.Deserialize<string[]>(json) ?? [];

    private static string Texts(string[] texts) => JsonSerializer.Serialize(texts);
}
