using System.Collections.Immutable;
using System.Text.Json.Nodes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Merging;

/// <summary>
/// Two people's changes to one plan brought together, a change taken back while others went on, layers that follow their base.
/// </summary>
public static class PlanMerge
{
    /// <summary>What belongs to a layer itself and never follows its base.</summary>
    private static readonly string[] Own = ["name", "basedOn", "group"];

    /// <summary>
    /// <paramref name="mine"/>, made from <paramref name="before"/>, brought onto <paramref name="theirs"/>. Conflicts name what both
    /// changed differently, as "sub · depth · Z"; the plan then is theirs in those places.
    /// </summary>
    public static (Plan Plan, ImmutableArray<string> Conflicts) Merge(Plan before, Plan mine, Plan theirs)
    {
        if (ReferenceEquals(before, theirs))
        {
            return (mine, []);
        }

        var merge = new TreeMerge(preferMine: false);
        var merged = (JsonObject)merge.Merge(PlanTree.From(before), PlanTree.From(mine), PlanTree.From(theirs))!;
        return (PlanTree.ReadPlan(merged), [.. merge.Conflicts.Select(PlanComparison.Words)]);
    }

    /// <summary>
    /// Lets layers that are based on another follow it: what a layer had in common with its base before the change it has in common after.
    /// A base that is gone leaves the layer whole and on its own.
    /// </summary>
    public static Plan Follow(Plan before, Plan after)
    {
        if (after.Layers.All(l => l.BasedOn is null))
        {
            return after;
        }

        var done = new Dictionary<string, LayerPlan>();
        foreach (LayerPlan layer in InOrder(after))
        {
            done[layer.Name] = Followed(layer, before, after, done);
        }

        return after with
        {
            Layers = [.. after.Layers.Select(l => done[l.Name])],
        };
    }

    /// <summary>A layer as it is once it is based on another: whole, with that layer's name and what the base has.</summary>
    public static LayerPlan Base(LayerPlan layer, LayerPlan on) => on with { Name = layer.Name, Group = layer.Group, BasedOn = on.Name };

    /// <summary>How a layer differs from its base; empty without one.</summary>
    public static ImmutableArray<PlanChange> Differences(Plan plan, LayerPlan layer) =>
        plan.FindLayer(layer.BasedOn) is { } on ? PlanComparison.Between(Stripped(on), Stripped(layer)) : [];

    private static LayerPlan Followed(LayerPlan layer, Plan before, Plan after, Dictionary<string, LayerPlan> done)
    {
        if (layer.BasedOn is not { } name)
        {
            return layer;
        }

        if (!done.TryGetValue(name, out LayerPlan? on))
        {
            return layer with { BasedOn = null };
        }

        // The layer's own edits were made on top of its base as it was before; only the base's own change is to follow.
        if (before.FindLayer(name) is not { } was || ReferenceEquals(was, on))
        {
            return layer;
        }

        var merge = new TreeMerge(preferMine: true);
        var merged = (JsonObject)merge.Merge(Stripped(was), Stripped(layer), Stripped(on))!;
        merged["name"] = layer.Name;
        merged["basedOn"] = layer.BasedOn;
        if (layer.Group is not null)
        {
            merged["group"] = layer.Group;
        }

        return PlanTree.ReadLayer(merged);
    }

    private static JsonObject Stripped(LayerPlan layer)
    {
        JsonObject tree = PlanTree.From(layer);
        foreach (string own in Own)
        {
            tree.Remove(own);
        }

        return tree;
    }

    /// <summary>Bases before what is based on them; a ring is cut.</summary>
    private static List<LayerPlan> InOrder(Plan plan)
    {
        var order = new List<LayerPlan>();
        var byName = plan.Layers.DistinctBy(l => l.Name).ToDictionary(l => l.Name);
        var begun = new HashSet<string>();
        void Add(LayerPlan layer)
        {
            if (!begun.Add(layer.Name))
            {
                return;
            }

            if (layer.BasedOn is { } name && byName.TryGetValue(name, out LayerPlan? on))
            {
                Add(on);
            }

            order.Add(layer);
        }

        foreach (LayerPlan layer in plan.Layers)
        {
            Add(layer);
        }

        return order;
    }
}
