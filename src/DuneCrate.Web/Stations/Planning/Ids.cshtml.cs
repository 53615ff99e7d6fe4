using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Rules;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Suggestions;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>Ids, flat colours and masks: what items carry, what passes ask for, and what does not meet.</summary>
public sealed class IdsModel(ShotViews views, StorageRoots roots, PlanEditor plans) : PlanFormPage(views, roots, plans)
{
    /// <inheritdoc/>
    public override string Part => "ids";

    /// <summary>Every id, seen from both sides.</summary>
    public IEnumerable<IdUse> Ids => IdUse.Compute(View.Plan);

    /// <summary>Items that wear flat colours: the materials, or the items where no material is listed.</summary>
    public IEnumerable<SceneItem> Coloured =>
        View.Plan.Items.Any(i => i.Kind == ItemKind.Material)
            ? View.Plan.Items.Where(i => i.Kind == ItemKind.Material)
            : View.Plan.Items.Where(i => i.IsVisible);

    /// <summary>The nearest other flat colour, with its CIEDE2000 difference; null without one.</summary>
    public (string Name, double Difference)? Nearest(SceneItem item) =>
        item.Colour is null
            ? null
            : Coloured
                .Where(o => o != item && o.Colour is not null)
                .Select(o => ((string, double)?)(o.Name, FlatColours.Difference(o.Colour!, item.Colour)))
                .MinBy(d => d!.Value.Item2);

    /// <summary>Passes that put out object ids.</summary>
    public IEnumerable<(LayerPlan Layer, PassPlan Pass)> IdPasses => IdUse.PassesOf(View.Plan).Where(p => !p.Layer.Off);

    /// <summary>Masks that passes put out, by layer: pass, channel, mask, items.</summary>
    public IEnumerable<(string Layer, string Pass, string Channel, string Mask, string Items)> Masks =>
        from layer in View.Plan.Layers
        where !layer.Off
        from pass in layer.Passes
        where pass.Masks is not null
        from mask in pass.Masks!
        select (
            layer.Name,
            pass.Pass,
            mask.Key,
            mask.Value,
            string.Join(", ", View.Plan.Items.Where(i => i.Mask == mask.Value && layer.RoleOf(i.Name).IsSeen()).Select(i => i.Name))
        );

    /// <summary>What does not meet.</summary>
    public IEnumerable<PlanFinding> Broken => Sheet.Findings.Where(f => PlanRuleBook.Find(f.Rule)?.IsAboutIds == true);

    /// <summary>Whether a layer has masks that could be packed.</summary>
    public bool CanPack(LayerPlan layer) => !PackMattes.MasksOf(View.Plan, layer).IsEmpty;
}
