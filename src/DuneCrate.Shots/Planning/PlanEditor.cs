using System.Collections.Concurrent;
using System.Collections.Immutable;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Merging;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Live;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Planning;

/// <summary>
/// Changes plans. A change made on an older version is brought onto the newest one; where both touched the same thing nothing is saved and
/// the
/// conflict is named. Undo and redo take back one's own steps, under whatever others did since. Changes of one shot take turns, so that
/// none is refused
/// for being slow; those of different shots never wait for each other.
/// </summary>
public sealed class PlanEditor(ShowStore shows, PlanStore plans, ShotViews views, ShotEvents events, TimeProvider clock)
{
    private const int Tries = 5;
    private readonly ConcurrentDictionary<int, SemaphoreSlim> _turns = new();

    /// <summary>Makes a change on the version that its maker saw.</summary>
    public Task<EditOutcome> EditAsync(int shotId, int revision, PlanEdit edit, Editor editor) =>
        SaveAsync(
            shotId,
            editor,
            RevisionKind.Edit,
            async (shot, now) =>
            {
                if (edit is not ReplacePlan && views.KeptPlanOf(shot) is { Whole: null } unreadable)
                {
                    throw new PlanEditException(
                        "plan",
                        $"The plan as it is kept cannot be read: {unreadable.Problems[0]} Import a plan, or bring back an earlier version."
                    );
                }

                Plan? seen = revision == shot.Revision ? now : await AtAsync(shot, revision);
                return seen is null ? null : (seen, edit.Apply(seen), edit.Description);
            }
        );

    /// <summary>Takes back the editor's newest step that is not taken back yet.</summary>
    public Task<EditOutcome> UndoAsync(int shotId, Editor editor) => StepAsync(shotId, editor, RevisionKind.Undo);

    /// <summary>Makes the step again that the editor took back last.</summary>
    public Task<EditOutcome> RedoAsync(int shotId, Editor editor) => StepAsync(shotId, editor, RevisionKind.Redo);

    /// <summary>What undo and redo would take back or make again, in words; null for nothing.</summary>
    public async Task<(string? Undo, string? Redo)> StepsAsync(int shotId, Editor editor)
    {
        (Stack<PlanRevisionRow> undo, Stack<PlanRevisionRow> redo) = Steps(await plans.RevisionsAsync(shotId), editor);
        return (undo.TryPeek(out PlanRevisionRow? u) ? u.What : null, redo.TryPeek(out PlanRevisionRow? r) ? r.What : null);
    }

    /// <summary>The plan of a shot at a revision with the show's settings of today; null when it is not kept.</summary>
    public async Task<Plan?> AtAsync(ShotRow shot, int revision) =>
        await plans.PlanAtAsync(shot.Id, revision) is { } json && PlanDocument.Read(json).Plan is { } plan
            ? plan with
            {
                Show = views.ShowOf(shot.Show),
            }
            : null;

    private Task<EditOutcome> StepAsync(int shotId, Editor editor, RevisionKind kind) =>
        SaveAsync(
            shotId,
            editor,
            kind,
            async (shot, _) =>
            {
                (Stack<PlanRevisionRow> undo, Stack<PlanRevisionRow> redo) = Steps(await plans.RevisionsAsync(shotId), editor);
                Stack<PlanRevisionRow> steps = kind == RevisionKind.Undo ? undo : redo;
                if (!steps.TryPeek(out PlanRevisionRow? step))
                {
                    throw new PlanEditException(
                        "undo",
                        kind == RevisionKind.Undo ? "You have no step to take back." : "You have taken nothing back."
                    );
                }

                return await AtAsync(shot, step.Revision) is { } after && await AtAsync(shot, step.Revision - 1) is { } before
                    ? (after, before, step.What)
                    : null;
            }
        );

    private async Task<EditOutcome> SaveAsync(
        int shotId,
        Editor editor,
        RevisionKind kind,
        Func<ShotRow, Plan, Task<(Plan Before, Plan After, string What)?>> step
    )
    {
        SemaphoreSlim turn = _turns.GetOrAdd(shotId, _ => new SemaphoreSlim(1, 1));
        await turn.WaitAsync();
        try
        {
            return await SaveInTurnAsync(shotId, editor, kind, step);
        }
        finally
        {
            turn.Release();
        }
    }

    private async Task<EditOutcome> SaveInTurnAsync(
        int shotId,
        Editor editor,
        RevisionKind kind,
        Func<ShotRow, Plan, Task<(Plan Before, Plan After, string What)?>> step
    )
    {
        for (int attempt = 0; ; attempt++)
        {
            ShotRow shot = await shows.ShotAsync(shotId) ?? throw new InvalidOperationException("The shot is gone.");
            Plan now = views.KeptPlanOf(shot) is var kept && kept.Whole is { } whole ? whole : kept.Usable;
            try
            {
                if (await step(shot, now) is not { } change)
                {
                    return new EditOutcome(
                        shot.Revision,
                        [],
                        "The version that this change was made on is not kept any more. Reload the page and make it once more.",
                        "revision",
                        null
                    );
                }

                (Plan merged, ImmutableArray<string> conflicts) = PlanMerge.Merge(change.Before, change.After, now);
                if (!conflicts.IsEmpty)
                {
                    return new EditOutcome(shot.Revision, conflicts, null, null, null);
                }

                PlanEdit.CheckNoWorse(now, merged, takesFindings: true);
                if (PlanDocument.Write(merged) == PlanDocument.Write(now))
                {
                    return new EditOutcome(shot.Revision, [], null, null, null);
                }

                var row = new PlanRevisionRow
                {
                    ShotId = shotId,
                    Revision = shot.Revision + 1,
                    Plan = [],
                    What = change.What,
                    Kind = kind,
                    Session = editor.Session,
                    By = editor.Name,
                    At = clock.UtcNow,
                };
                var audited = new AuditEvent(
                    editor.Name.Length > 0 ? editor.Name : Editor.Unnamed,
                    HistoryKinds.Planned,
                    kind == RevisionKind.Undo ? $"took back: {change.What}" : change.What,
                    shot.Show.Code,
                    shot.Code,
                    $"version {shot.Revision}",
                    $"version {row.Revision}"
                );
                if (await plans.SaveAsync(merged, row, audited))
                {
                    events.Tell(
                        shotId,
                        "plan",
                        new
                        {
                            row.Revision,
                            row.What,
                            row.By,
                            undo = kind == RevisionKind.Undo,
                        }
                    );
                    return new EditOutcome(row.Revision, [], null, null, change.What);
                }
            }
            catch (PlanEditException e)
            {
                return new EditOutcome(shot.Revision, [], e.Message, e.Field, null);
            }

            if (attempt == Tries)
            {
                return new EditOutcome(shot.Revision, [], "Others are changing this plan all the time. Try once more.", "revision", null);
            }
        }
    }

    /// <summary>An editor's steps that can be taken back, and those that can be made again; the newest on top.</summary>
    private static (Stack<PlanRevisionRow> Undo, Stack<PlanRevisionRow> Redo) Steps(List<PlanRevisionRow> newestFirst, Editor editor)
    {
        Stack<PlanRevisionRow> undo = new(),
            redo = new();
        foreach (PlanRevisionRow row in newestFirst.AsEnumerable().Reverse().Where(r => r.Session == editor.Session && r.Revision > 0))
        {
            switch (row.Kind)
            {
                case RevisionKind.Undo:
                    undo.TryPop(out _);
                    redo.Push(row);
                    break;
                case RevisionKind.Redo:
                    redo.TryPop(out _);
                    undo.Push(row);
                    break;
                default:
                    undo.Push(row);
                    redo.Clear();
                    break;
            }
        }

        return (undo, redo);
    }
}
