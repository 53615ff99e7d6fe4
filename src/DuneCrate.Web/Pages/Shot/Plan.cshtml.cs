using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning;
using DuneCrate.Store;
using DuneCrate.Web.Shots;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Pages.Shot;

/// <summary>One cell of the pass sheet.</summary>
public sealed record SheetCell(string Layer, bool Planned, string Says);

/// <summary>One pass of the pass sheet over all layers.</summary>
public sealed record SheetRow(string Pass, string TradeName, string Kind, string Remark, List<SheetCell> Cells);

/// <summary>What a layer comes to.</summary>
public sealed record LayerTotal(long Files, int Channels, double MebibytesPerFrame);

/// <summary>The Plan station: the pass sheet and its settings. Every change is saved at once; one made on an older plan is refused.</summary>
public sealed class PlanModel(ShotDesk desk, ShowStore store) : ShotPage(desk)
{
    /// <inheritdoc/>
    public override string Station => "Plan";

    /// <summary>The plan that is shown: the stored one, or the one that was refused.</summary>
    public Plan Draft { get; private set; } = null!;

    /// <summary>What is wrong with it.</summary>
    public ImmutableArray<PlanProblem> Problems { get; private set; } = [];

    /// <summary>The rows of the sheet.</summary>
    public List<SheetRow> Rows { get; private set; } = [];

    /// <summary>What each layer comes to.</summary>
    public List<LayerTotal> Totals { get; private set; } = [];

    /// <summary>The selected layer, or null.</summary>
    public LayerPlan? Current => Draft.Layers.FirstOrDefault(l => l.Name == View.Selected.Layer);

    /// <summary>Path of the selected layer in the document.</summary>
    public string At => $"layers[{Math.Max(0, View.Plan.Layers.ToList().FindIndex(l => l.Name == View.Selected.Layer))}]";

    /// <summary>The selected pass, or null.</summary>
    public PassPlan? CurrentPass => Current?.Outputs.SelectMany(o => o.Passes).FirstOrDefault(p => p.Pass == View.Selected.Pass);

    /// <summary>Its entry in the catalogue.</summary>
    public PassDefinition? Definition => PassCatalogue.Shipped.Find(CurrentPass?.Pass ?? "");

    /// <summary>The sum that the planned passes fit.</summary>
    public ImmutableArray<RebuildTerm> Proposal => RebuildProposal.Of(Current?.Outputs.SelectMany(o => o.Passes).Select(p => p.Pass) ?? []);

    /// <summary>What is wrong with a field, or an empty text.</summary>
    public string Problem(string field) => Problems.FirstOrDefault(p => p.Field == field).Message ?? "";

    /// <summary>Whether the page has a place to say what is wrong with a field.</summary>
    public bool HasField(string field) => field is "shot.frames" or "shot.frameRate" or "shot.width" or "shot.height" || new[] { "name", "frames", "rebuild", "outputs[0].template", "outputs[0].padding" }.Any(f => field == $"{At}.{f}");

    /// <summary>What was typed into a field that was refused, or null.</summary>
    public string? Given(string field) => Problems.IsEmpty || !Request.HasFormContentType ? null : (string?)Request.Form[field];

    /// <summary>Shows the station.</summary>
    public void OnGet() => Fill(View.Plan);

    /// <summary>The plan as a document.</summary>
    public IActionResult OnGetExport() => File(Encoding.UTF8.GetBytes(PlanDocument.Write(View.Plan)), "application/json", $"{View.Row.Code}_plan.json");

    /// <summary>Plans a pass of a layer, or takes it out.</summary>
    public Task<IActionResult> OnPostToggleAsync(string on, string? of, int revision) => ChangeAsync(revision, $"{of} of {on} changed", plan =>
    {
        string pass = (of ?? "").Trim();
        return PassCatalogue.Shipped.TryFind(pass, out _) ? (PassSheetEdit.TogglePass(plan, on, pass), null) : (plan, new PlanProblem("pass", PlanValidation.UnknownPass(pass, PassCatalogue.Shipped)));
    });

    /// <summary>Adds a layer.</summary>
    public Task<IActionResult> OnPostAddLayerAsync(string? name, int revision)
    {
        Layer = name?.Trim();
        Pass = null;
        return ChangeAsync(revision, $"layer {name} added", plan => PlanValidation.NameProblem(name?.Trim()) is { } wrong
            ? (plan, new PlanProblem("layer", wrong))
            : (PassSheetEdit.AddLayer(plan, name!.Trim(), AlphaMode.Premultiplied), null));
    }

    /// <summary>Takes the selected layer out.</summary>
    public Task<IActionResult> OnPostRemoveLayerAsync(string was, int revision) => ChangeAsync(revision, $"layer {was} removed", plan => (PassSheetEdit.RemoveLayer(plan, was), null));

    /// <summary>Sets the shot's frames, rate, size and camera.</summary>
    public Task<IActionResult> OnPostShotAsync(string? frames, string? rate, string? width, string? height, string? camera, int revision) => ChangeAsync(revision, "shot settings changed", plan =>
    {
        if (!FrameSet.TryParse(frames, out FrameSet? set, out string? noFrames))
        {
            return (plan, new PlanProblem("shot.frames", noFrames));
        }

        if (!FrameRate.TryParse(rate, out FrameRate parsed, out string? noRate))
        {
            return (plan, new PlanProblem("shot.frameRate", noRate));
        }

        _ = int.TryParse(width, NumberStyles.Integer, CultureInfo.InvariantCulture, out int wide);
        _ = int.TryParse(height, NumberStyles.Integer, CultureInfo.InvariantCulture, out int high);
        return (plan with { Shot = plan.Shot with { Frames = set, FrameRate = parsed, Width = wide, Height = high, Camera = camera?.Trim() ?? "" } }, null);
    });

    /// <summary>Sets the selected layer.</summary>
    public Task<IActionResult> OnPostLayerAsync(string was, string? name, string? layerFrames, AlphaMode alpha, OutputArrangement arrangement, string? template, string? padding, string? compression, string? rebuild, int revision) => ChangeAsync(revision, $"layer {was} changed", plan =>
    {
        FrameSet? frames = null;
        if (!string.IsNullOrWhiteSpace(layerFrames) && !FrameSet.TryParse(layerFrames, out frames, out string? noFrames))
        {
            return (plan, new PlanProblem($"{At}.frames", noFrames));
        }

        _ = int.TryParse(padding, NumberStyles.Integer, CultureInfo.InvariantCulture, out int digits);
        try
        {
            string newName = name?.Trim() ?? "";
            Plan changed = PassSheetEdit.SetLayer(plan, was, new LayerSettings(newName, frames, alpha, arrangement, template?.Trim() ?? "", digits, compression ?? "zip", RebuildProposal.Parse(rebuild)));
            Layer = PlanValidation.NameProblem(newName) is null ? newName : was;
            return (changed, null);
        }
        catch (FormatException e)
        {
            return (plan, new PlanProblem($"{At}.rebuild", e.Message));
        }
    });

    /// <summary>Sets the type of the selected pass.</summary>
    public Task<IActionResult> OnPostTypeAsync(string type, int revision) => ChangeAsync(revision, $"type of {View.Selected.Pass} changed", plan =>
        ChannelTypes.Find(type) is { } found && View.Selected is { Layer: { } layer, Pass: { } pass }
            ? (PassSheetEdit.SetType(plan, layer, pass, found), null)
            : (plan, new PlanProblem("type", $"'{type}' is not a channel type.")));

    /// <summary>Replaces the plan by a document.</summary>
    public async Task<IActionResult> OnPostImportAsync(IFormFile? file, int revision)
    {
        if (file is not { Length: > 0 and <= PlanDocument.MaxBytes })
        {
            return Refuse(View.Plan, [new PlanProblem("file", "Choose a plan file.")]);
        }

        using var reader = new StreamReader(file.OpenReadStream());
        (Plan? plan, ImmutableArray<PlanProblem> problems) = PlanDocument.Read(await reader.ReadToEndAsync());
        return plan is null || !problems.IsEmpty
            ? Refuse(View.Plan, [.. problems.Select(p => new PlanProblem("file", $"{file.FileName} was not imported. {p}"))])
            : await ChangeAsync(revision, $"plan imported from {Path.GetFileName(file.FileName)}", old => (plan with { Show = old.Show, Shot = plan.Shot with { Code = old.Shot.Code } }, null));
    }

    private async Task<IActionResult> ChangeAsync(int revision, string what, Func<Plan, (Plan, PlanProblem?)> change)
    {
        (Plan changed, PlanProblem? problem) = change(View.Plan);
        ImmutableArray<PlanProblem> problems = problem is { } one ? [one] : PlanValidation.Check(changed);
        if (!problems.IsEmpty)
        {
            return Refuse(View.Plan, problems);
        }

        if (await store.SavePlanAsync(View.Row.Id, revision, changed, what) == SaveOutcome.Conflict)
        {
            await LoadAsync();
            return Refuse(View.Plan, [new PlanProblem("revision", "Somebody changed this plan after you opened it, so your change was not made. The sheet below is theirs; make your change once more.")]);
        }

        await LoadAsync();
        return Redirect(View.Href("plan", View.Selected with { Pass = Pass ?? View.Selected.Pass, Frame = Frame }));
    }

    private IActionResult Refuse(Plan plan, ImmutableArray<PlanProblem> problems)
    {
        Problems = problems;
        Fill(plan);
        return Page();
    }

    private void Fill(Plan plan)
    {
        Draft = plan;
        var planned = plan.Layers.Select(l => l.Outputs.SelectMany(o => o.Passes).DistinctBy(p => p.Pass).ToDictionary(p => p.Pass)).ToArray();
        var own = planned.SelectMany(p => p.Keys).Distinct().ToArray();
        foreach (PassDefinition pass in PassCatalogue.Shipped.Passes)
        {
            foreach (string key in pass.IsFamily ? own.Where(k => PassCatalogue.Shipped.Find(k) == pass).Order(StringComparer.Ordinal) : Enumerable.Repeat(pass.Key, 1))
            {
                Rows.Add(new SheetRow(key, pass.TradeName, KindWords(pass.Kind), pass.Remark,
                    [.. plan.Layers.Select((l, i) => planned[i].TryGetValue(key, out PassPlan? there)
                        ? new SheetCell(l.Name, true, string.Join(" ", there.Channels.Values.Distinct().Select(t => t.Name())))
                        : new SheetCell(l.Name, false, ""))]));
            }
        }

        Rows = [.. Rows.Select((r, i) => (r, i)).OrderBy(r => Array.IndexOf(KindOrder, r.r.Kind)).ThenBy(r => r.i).Select(r => r.r)];
        ImmutableArray<PlannedOutput> outputs = PlannedOutput.Of(plan);
        double pixels = (double)plan.Shot.Width * plan.Shot.Height / (1 << 20);
        Totals = [.. plan.Layers.Select(l => new LayerTotal(
            outputs.Where(o => o.Layer == l).Sum(o => o.Frames.LongCount),
            l.Outputs.Sum(o => o.Passes.Sum(p => p.Channels.Count)),
            pixels * l.Outputs.Sum(o => o.Passes.Sum(p => p.Channels.Values.Sum(t => t.Bytes())))))];
    }

    private static readonly string[] KindOrder = [.. Enum.GetValues<PassKind>().Select(KindWords)];

    private static string KindWords(PassKind kind) => kind switch
    {
        PassKind.Combined => "The finished picture",
        PassKind.Light => "Shares of the light, summed",
        PassKind.Factor => "Factors, multiplied into light",
        PassKind.Modulate => "Occlusion and shadow, multiplied over",
        PassKind.Mask => "Masks",
        PassKind.Data => "Data, not colour",
        PassKind.Identity => "Identity, exact values",
        _ => "Looks, laid over",
    };
}
