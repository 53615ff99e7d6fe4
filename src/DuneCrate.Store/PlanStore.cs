using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Planning.Model;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>
/// Plans with all their versions, what shows settle for their shots, templates and confirmations. Safe to call from several threads.
/// </summary>
public sealed class PlanStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history, TimeProvider clock)
{
    /// <summary>Versions that are kept of a plan.</summary>
    public const int KeptRevisions = 1000;

    /// <summary>
    /// Replaces the plan of a shot, if its revision still is the one before <paramref name="step"/>'s, and keeps the version. False when
    /// somebody else was
    /// faster; nothing was saved then.
    /// </summary>
    /// <param name="plan">The plan as it is to be.</param>
    /// <param name="step">The version, without its plan.</param>
    /// <param name="audited">What is written down of it, in the same transaction.</param>
    /// <param name="cancel">Leaves everything as it was.</param>
    public async Task<bool> SaveAsync(Plan plan, PlanRevisionRow step, AuditEvent audited, CancellationToken cancel = default) =>
        await history.TryChangeAsync((context, stop) => ReplaceAsync(context, plan, step, stop), [audited], cancel) is not null;

    private static async Task<bool> ReplaceAsync(DuneCrateContext context, Plan plan, PlanRevisionRow step, CancellationToken cancel)
    {
        string json = PlanDocument.Write(plan);
        int changed = await context
            .Shots.Where(s => s.Id == step.ShotId && s.Revision == step.Revision - 1)
            .ExecuteUpdateAsync(
                s =>
                    s.SetProperty(x => x.PlanJson, json)
                        .SetProperty(x => x.Revision, step.Revision)
                        .SetProperty(x => x.LastEvent, step.What)
                        .SetProperty(x => x.LastEventAt, step.At),
                cancel
            );
        if (changed != 1)
        {
            return false;
        }

        step.Plan = PackedText.Pack(json);
        context.PlanRevisions.Add(step);
        await context
            .PlanRevisions.Where(r => r.ShotId == step.ShotId && r.Revision < step.Revision - KeptRevisions)
            .ExecuteDeleteAsync(cancel);
        return true;
    }

    /// <summary>The plan of a shot at a revision, as a document; null when it is not kept any more.</summary>
    public async Task<string?> PlanAtAsync(int shotId, int revision, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        byte[]? packed = await context
            .PlanRevisions.Where(r => r.ShotId == shotId && r.Revision == revision)
            .Select(r => r.Plan)
            .FirstOrDefaultAsync(cancel);
        return packed is null ? null : PackedText.Unpack(packed);
    }

    /// <summary>The versions of a plan without the plans themselves, newest first.</summary>
    public async Task<List<PlanRevisionRow>> RevisionsAsync(int shotId, int most = 200, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .PlanRevisions.AsNoTracking()
            .Where(r => r.ShotId == shotId)
            .OrderByDescending(r => r.Revision)
            .Take(most)
            .Select(r => new PlanRevisionRow
            {
                ShotId = r.ShotId,
                Revision = r.Revision,
                Plan = Array.Empty<byte>(),
                What = r.What,
                Kind = r.Kind,
                Session = r.Session,
                By = r.By,
                At = r.At,
            })
            .ToListAsync(cancel);
    }

    /// <summary>Settles what holds for all shots of a show.</summary>
    public Task SaveShowAsync(
        int showId,
        ShowPlan settings,
        string frameRate,
        int width,
        int height,
        AuditEvent? audited = null,
        CancellationToken cancel = default
    )
    {
        string json = settings.Write();
        return history.ChangeAsync(
            (context, stop) =>
                context
                    .Shows.Where(s => s.Id == showId)
                    .ExecuteUpdateAsync(
                        s =>
                            s.SetProperty(x => x.SettingsJson, json)
                                .SetProperty(x => x.Name, settings.Name)
                                .SetProperty(x => x.FrameRate, frameRate)
                                .SetProperty(x => x.Width, width)
                                .SetProperty(x => x.Height, height),
                        stop
                    ),
            audited,
            cancel
        );
    }

    /// <summary>What was confirmed for a shot.</summary>
    public async Task<List<PreflightTickRow>> TicksAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.PreflightTicks.AsNoTracking().Where(t => t.ShotId == shotId).OrderBy(t => t.Id).ToListAsync(cancel);
    }

    /// <summary>Lines of a show's preflight list that nobody has confirmed for a shot.</summary>
    public async Task<IReadOnlyList<string>> UnconfirmedAsync(int shotId, ShowPlan show, CancellationToken cancel = default)
    {
        var confirmed = (await TicksAsync(shotId, cancel)).Select(t => t.Item).ToHashSet();
        return [.. Preflight.From(show).Where(i => !confirmed.Contains(i))];
    }

    /// <summary>Confirms a line, or takes the confirmation back when <paramref name="by"/> is null.</summary>
    public Task TickAsync(int shotId, string item, string? by, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.ChangeAsync(
            async (context, stop) =>
            {
                await context.PreflightTicks.Where(t => t.ShotId == shotId && t.Item == item).ExecuteDeleteAsync(stop);
                if (by is not null)
                {
                    context.PreflightTicks.Add(
                        new PreflightTickRow
                        {
                            ShotId = shotId,
                            Item = item,
                            By = by,
                            At = clock.UtcNow,
                        }
                    );
                }
            },
            audited,
            cancel
        );

    /// <summary>The plans that a show keeps for new shots, by name.</summary>
    public async Task<List<PlanTemplateRow>> TemplatesAsync(int showId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.PlanTemplates.AsNoTracking().Where(t => t.ShowId == showId).OrderBy(t => t.Name).ToListAsync(cancel);
    }

    /// <summary>Keeps a plan for new shots; one of the same name is replaced.</summary>
    public async Task KeepTemplateAsync(int showId, string name, Plan plan, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
        await context.PlanTemplates.Where(t => t.ShowId == showId && t.Name == name).ExecuteDeleteAsync(cancel);
        context.PlanTemplates.Add(
            new PlanTemplateRow
            {
                ShowId = showId,
                Name = name,
                PlanJson = PlanDocument.Write(plan),
                At = clock.UtcNow,
            }
        );
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>Forgets a plan that was kept for new shots.</summary>
    public async Task RemoveTemplateAsync(int showId, int id, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await context.PlanTemplates.Where(t => t.ShowId == showId && t.Id == id).ExecuteDeleteAsync(cancel);
    }
}
