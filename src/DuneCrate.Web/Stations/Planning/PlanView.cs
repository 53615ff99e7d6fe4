using System.Collections.Immutable;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Estimates;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Rules;
using DuneCrate.Planning.Suggestions;
using DuneCrate.Web.Stations.Planning.Grids;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>What the pages of the Plan station show of one version of a plan.</summary>
public sealed class PlanView(Plan plan, int revision, long? freeBytes, IEnumerable<CrateRecipe> receivers)
{
    /// <summary>The grids there are, by the last part of their address.</summary>
    public static readonly ImmutableArray<string> Grids = ["sheet", "scene", "roles", "files", "settings"];

    private readonly PlanContext _context = PlanContext.Create(plan, freeBytes) with
    {
        Gaps = [.. receivers.SelectMany(r => RecipeGaps.Of(r, plan))],
    };

    /// <summary>The plan.</summary>
    public Plan Plan => plan;

    /// <summary>Its revision.</summary>
    public int Revision => revision;

    /// <summary>Room left where the renderer writes; null when it is not known.</summary>
    public long? FreeBytes => freeBytes;

    /// <summary>What it will come to.</summary>
    public PlanEstimate Estimate => _context.Estimate;

    /// <summary>What is wrong with it, worst first.</summary>
    public ImmutableArray<PlanFinding> Findings => field.IsDefault ? field = PlanRuleBook.Check(_context) : field;

    /// <summary>Passes that the scene asks for.</summary>
    public ImmutableArray<PassSuggestion> Suggestions => field.IsDefault ? field = PassSuggestions.Compute(plan) : field;

    /// <summary>The findings in short: "1 to fix, 2 to look at, 1 note".</summary>
    public string Counted =>
        Findings.Length == 0
            ? "none"
            : $"{Count(Severity.Blocker)} to fix, {Count(Severity.Warning)} to look at, {Words.Count(Count(Severity.Note), "note")}";

    /// <summary>Findings of a severity.</summary>
    public int Count(Severity severity) => Findings.Count(f => f.Severity == severity);

    /// <summary>A grid by its name; the pass sheet for an unknown one.</summary>
    public GridModel Grid(string view) =>
        view switch
        {
            "scene" => RosterGrid.Create(plan, revision),
            "roles" => RolesGrid.Create(plan, revision, Findings),
            "files" => FilesGrid.Create(plan, revision, Estimate, Findings),
            "settings" => SettingsGrid.Create(plan, revision, Findings),
            _ => SheetGrid.Create(plan, revision, Estimate, Findings),
        };
}
