using DuneCrate.Planning.Edits;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>What the pages of the Plan station share: the plan with its findings and estimate.</summary>
public abstract class PlanPage(ShotViews views, StorageRoots roots) : ShotPage(views)
{
    /// <inheritdoc/>
    public override string Station => "Plan";

    /// <summary>Last part of the address: sheet, scene, roles, ids, files, settings, estimate, preflight, versions.</summary>
    public abstract string Part { get; }

    /// <summary>The plan with what is to be said about it.</summary>
    public PlanView Sheet => field ??= new PlanView(View.Plan, View.Row.Revision, roots.FreeBytes(View.Row.Root), View.Receivers);

    /// <summary>Address of a part of the station, with the selection.</summary>
    public string PartHref(string part) => View.Href(part == "sheet" ? "plan" : $"plan/{part}");

    /// <summary>A change as the page's buttons carry it.</summary>
    public static string Edit(PlanEdit edit) => edit.Write();
}
