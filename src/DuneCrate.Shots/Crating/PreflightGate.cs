using DuneCrate.Foundation.Documents;
using DuneCrate.Planning.Model;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>Holds crates back while lines of a preflight list are open, in shows that want it so.</summary>
public sealed class PreflightGate(PlanStore plans)
{
    /// <summary>Why the show seals nothing yet: it waits for its preflight list; or null.</summary>
    public async Task<string?> ReasonAsync(ShotRow shot, ShowPlan show) =>
        show.PreflightSeals && (await plans.UnconfirmedAsync(shot.Id, show)).Count is > 0 and var open
            ? $"{Words.Count(open, "line")} of the preflight list {Words.Are(open)} not confirmed, and this show seals nothing before. "
                + "Open preflight and confirm them."
            : null;
}
