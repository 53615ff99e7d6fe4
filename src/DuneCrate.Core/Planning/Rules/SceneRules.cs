using DuneCrate.Core.Checks;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Suggestions;
using DuneCrate.Core.Scene;

namespace DuneCrate.Core.Planning.Rules;

/// <summary>What rules about the scene share. Without a roster they have nothing to say.</summary>
public abstract class SceneRule : PlanRule
{
    /// <summary>The items that a layer shows.</summary>
    protected static SceneItem[] Seen(Plan plan, LayerPlan layer) =>
        [.. plan.Items.Where(i => i.IsVisible && layer.RoleOf(i.Name).IsSeen())];
}

/// <summary>
/// An id asked of a pass that no item carries, two items on one id, two flat colours the same or too near to be told apart, and masks asked
/// for that no item has.
/// </summary>
public sealed class PlanIds : SceneRule
{
    private static readonly RuleThreshold Nearest = new(
        "nearest",
        FlatColours.TooNear,
        "CIEDE2000 difference below which two flat colours are too near"
    );

    public override string Id => "plan.ids";

    public override string Title => "Ids do not meet";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "An id asked of a pass that no item carries; two items on one id or colour by accident";

    public override System.Collections.Immutable.ImmutableArray<RuleThreshold> Thresholds => [Nearest];

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        Plan plan = context.Plan;
        foreach (
            IGrouping<int?, SceneItem> same in plan
                .Items.Where(i => i is { IsVisible: true, Id: not null })
                .GroupBy(i => i.Id)
                .Where(g => g.Count() > 1)
        )
        {
            yield return Found(
                null,
                null,
                "ids",
                $"{Names(same.Select(i => i.Name))} carry the same object id {same.Key}: they cannot be selected apart.",
                "Assign ids anew; the first keeps it.",
                new AssignIds()
            );
        }

        SceneItem[] coloured = [.. plan.Items.Where(i => i.Colour is not null)];
        double nearest = context.Threshold(this, Nearest);
        var near = (
            from a in coloured.Select((item, i) => (item, i))
            from b in coloured.Skip(a.i + 1)
            let d = FlatColours.Difference(a.item.Colour!, b.Colour!)
            where d < nearest
            orderby d
            select (A: a.item, B: b, d)
        ).FirstOrDefault();
        if (near.A is not null)
        {
            yield return Found(
                null,
                null,
                "colours",
                near.d == 0
                    ? $"{near.A.Name} and {near.B.Name} have the same flat colour {near.A.Colour}."
                    : FormattableString.Invariant(
                        $"The flat colours of {near.A.Name} and {near.B.Name} differ by {near.d:0.#} (CIEDE2000); below {nearest:0.#} a selection takes both."
                    ),
                "Assign colours anew.",
                near.d == 0
                    ? new AssignColours()
                    : new SeveralEdits([new PutItems([near.B with { Colour = null }]), new AssignColours()], "flat colours assigned")
            );
        }

        if (plan.Items.IsEmpty)
        {
            yield break;
        }

        foreach (LayerPlan layer in context.Layers)
        {
            foreach (PassPlan pass in layer.Passes)
            {
                if (pass.Ids is { } asked)
                {
                    int[] carried = [.. Seen(plan, layer).Select(i => i.Id).OfType<int>()];
                    int[] missing = [.. asked.Where(id => !carried.Contains(id))];
                    if (missing.Length > 0)
                    {
                        yield return Found(
                            layer.Name,
                            pass.Pass,
                            "ids",
                            $"{pass.Pass} of {layer.Name} asks for {(missing.Length == 1 ? "id" : "ids")} {Frames.FrameSet.From(missing)}, which no item that it shows carries.",
                            "Ask for the ids that are carried, or give the items theirs.",
                            new SetAskedIds(layer.Name, pass.Pass, Frames.FrameSet.From(carried).ToString())
                        );
                    }
                }

                if (
                    pass.Masks is { } masks
                    && masks.Values.Except(Seen(plan, layer).Select(i => i.Mask ?? "")).ToArray() is { Length: > 0 } gone
                )
                {
                    yield return Found(
                        layer.Name,
                        pass.Pass,
                        "masks",
                        $"{pass.Pass} of {layer.Name} masks {Names(gone)}, which no item that it shows goes into.",
                        "Pack the mattes anew.",
                        PackMattes.MasksOf(plan, layer).IsEmpty ? null : new PackMattes(layer.Name)
                    );
                }
            }
        }
    }
}

/// <summary>
/// Transparent or cut-out items shown in an occlusion pass, which they darken wrongly; global illumination left on for it. Common practice:
/// occlusion is rendered in a layer of its own with global illumination off.
/// </summary>
public sealed class PlanOcclusion : SceneRule
{
    public override string Id => "plan.occlusion";

    public override string Title => "Occlusion will be wrong";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Transparent or cut-out items in an occlusion pass; global illumination left on for it";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        foreach (LayerPlan layer in context.Layers.Where(l => l.Passes.Any(p => p.Pass == "ao")))
        {
            SceneItem[] wrong = [.. Seen(context.Plan, layer).Where(i => i.Is(ItemTrait.Transparent) || i.Is(ItemTrait.CutOut))];
            if (wrong.Length > 0)
            {
                bool isAlone = layer.Passes.All(p => p.Pass == "ao");
                yield return Found(
                    layer.Name,
                    "ao",
                    "roles",
                    $"{Names(wrong.Select(i => i.Name))} {(wrong.Length == 1 ? "is" : "are")} transparent or cut out and {(wrong.Length == 1 ? "darkens" : "darken")} the occlusion of {layer.Name} as if solid.",
                    isAlone ? "Hide it in this layer." : "Render the occlusion in a layer of its own, without it.",
                    isAlone
                        ? new SetRoles([.. wrong.Select(i => i.Name)], [layer.Name], ItemRole.Hidden)
                        : Apart(context.Plan, layer, wrong)
                );
            }

            bool isOff =
                RenderSettings.IsOn(context.Plan, layer, "global_illumination") == false
                || layer.Changes?.Any(c => c.What == LayerChange.GlobalIlluminationOff) == true;
            if (!isOff && RenderSettings.IsOn(context.Plan, layer, "global_illumination") == true)
            {
                yield return Found(
                    layer.Name,
                    "ao",
                    "global_illumination",
                    $"Global illumination is on while {layer.Name} renders occlusion.",
                    "Switch it off for a layer that only renders occlusion.",
                    layer.Passes.All(p => p.Pass == "ao")
                        ? new SetSettings([layer.Name], "global_illumination", "no")
                        : Apart(context.Plan, layer, wrong)
                );
            }
        }
    }

    /// <summary>A layer based on this one that renders nothing but the occlusion; when there is one, the pass goes there.</summary>
    private static PlanEdit Apart(Plan plan, LayerPlan layer, SceneItem[] hidden)
    {
        string name = layer.Name + "_occlusion";
        if (plan.FindLayer(name) is not null)
        {
            return new WriteCells([
                new CellText(layer.Name, "ao", ""),
                new CellText(name, "ao", Sheet.PassSheet.Read(plan, layer, "ao").ToString()),
            ]);
        }

        PlanEdit[] roles = hidden.Length == 0 ? [] : [new SetRoles([.. hidden.Select(i => i.Name)], [name], ItemRole.Hidden)];
        return new SeveralEdits(
            [
                new AddLayer(name, BasedOn: layer.Name),
                new WriteCells([.. layer.AllPasses.Where(p => p.Pass != "ao").Select(p => new CellText(name, p.Pass, ""))]),
                new WriteCells([new CellText(layer.Name, "ao", "")]),
                new WriteCells([new CellText(name, "ao", Sheet.PassSheet.Read(plan, layer, "ao").ToString())]),
                new SetChanges(name, [new LayerChange(LayerChange.GlobalIlluminationOff, "", [], "occlusion alone")]),
                .. roles,
            ],
            $"occlusion of {layer.Name} rendered apart"
        );
    }
}

/// <summary>Emitters behind transparent items: their light reaches the camera through the transmission pass, so the emission pass lacks it.</summary>
public sealed class PlanHiddenEmission : SceneRule
{
    public override string Id => "plan.hidden-emission";

    public override string Title => "Emission will be incomplete";

    public override Severity Severity => Severity.Note;

    public override string Question => "Emitters behind transparent items";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from layer in context.Layers
        where layer.Passes.Any(p => p.Pass == "emission")
        let behind = Seen(context.Plan, layer)
            .Where(i => i.Is(ItemTrait.Emits) && context.Plan.Items.Any(g => g.Name == i.Behind && g.Is(ItemTrait.Transparent)))
            .ToArray()
        where behind.Length > 0
        let masked = layer.Passes.SelectMany(p => p.Masks is null ? [] : p.Masks.Values.AsEnumerable()).ToHashSet()
        where behind.Any(i => i.Mask is null || !masked.Contains(i.Mask))
        select Found(
            layer.Name,
            "emission",
            null,
            $"{Names(behind.Select(i => i.Name))} {(behind.Length == 1 ? "stands" : "stand")} behind {Names(behind.Select(i => i.Behind!).Distinct())}: emission of {layer.Name} will lack that light.",
            "Plan a matte for it, so that it can be lifted out of transmission.",
            new SeveralEdits(
                [
                    new PutItems([.. behind.Where(i => i.Mask is null).Select(i => i with { Mask = PassSuggestions.Slug(i.Name) })]),
                    new PackMattes(layer.Name),
                ],
                $"mattes of {layer.Name} packed"
            )
        );
}

/// <summary>A trait of what a layer shows with no pass for it, and a pass with nothing in the layer to fill it.</summary>
public sealed class PlanScene : SceneRule
{
    private static readonly (string Pass, ItemTrait Trait, string Words)[] Filled =
    [
        ("emission", ItemTrait.Emits, "emits"),
        ("transmission", ItemTrait.Transparent, "is transparent"),
        ("subsurface", ItemTrait.Scattering, "scatters"),
        ("volume", ItemTrait.Volume, "is a volume"),
        ("motion", ItemTrait.Animated, "moves"),
        ("reflection", ItemTrait.Glossy, "is glossy"),
        ("specular", ItemTrait.Glossy, "is glossy"),
    ];

    public override string Id => "plan.scene";

    public override string Title => "Scene and passes differ";

    public override Severity Severity => Severity.Note;

    public override string Question => "A trait of the scene with no pass for it, a pass with nothing in the scene to fill it";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        if (context.Plan.Items.IsEmpty)
        {
            yield break;
        }

        foreach (LayerPlan layer in context.Layers)
        {
            SceneItem[] seen = Seen(context.Plan, layer);
            foreach ((string pass, ItemTrait trait, string words) in Filled.Where(f => layer.Passes.Any(p => p.Pass == f.Pass)))
            {
                bool isFilled =
                    seen.Any(i => i.Is(trait))
                    || (pass == "reflection" && seen.Any(i => i.Is(ItemTrait.Transparent)))
                    || (pass == "motion" && context.Plan.Items.Any(i => i.Kind == ItemKind.Camera && i.Is(ItemTrait.Animated)));
                if (!isFilled)
                {
                    yield return Found(
                        layer.Name,
                        pass,
                        null,
                        $"Nothing that {layer.Name} shows {words}: {pass} will be empty.",
                        "Take it out, or put the trait into the roster.",
                        new WriteCells([new CellText(layer.Name, pass, "")])
                    );
                }
            }
        }

        foreach (PassSuggestion suggestion in PassSuggestions.Of(context.Plan).Where(s => Filled.Any(f => f.Pass == s.Pass)))
        {
            yield return Found(
                suggestion.Layer,
                suggestion.Pass,
                null,
                $"{suggestion.Reason}, and {suggestion.Layer} plans no {suggestion.Pass}.",
                $"Plan {suggestion.Pass}.",
                suggestion.Edit
            );
        }
    }
}

/// <summary>Render settings that cost time and reach no pass or item.</summary>
public sealed class PlanIdle : SceneRule
{
    private static readonly (string Setting, double Above, ItemTrait Trait, string Nothing, string Cheap)[] Costly =
    [
        ("samples_subsurface", 0, ItemTrait.Scattering, "scatters", "0"),
        ("bounces_transmission", 2, ItemTrait.Transparent, "is transparent", "0"),
        ("bounces_volume", 0, ItemTrait.Volume, "is a volume", "0"),
        ("bounces_glossy", 4, ItemTrait.Glossy, "is glossy", "1"),
    ];

    public override string Id => "plan.idle";

    public override string Title => "Settings that reach nothing";

    public override Severity Severity => Severity.Note;

    public override string Question => "Render settings that cost time and reach no pass or item";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        if (context.Plan.Items.IsEmpty)
        {
            yield break;
        }

        foreach (LayerPlan layer in context.Layers)
        {
            SceneItem[] seen = Seen(context.Plan, layer);
            foreach ((string setting, double above, ItemTrait trait, string nothing, string cheap) in Costly)
            {
                if (RenderSettings.NumberOf(context.Plan, layer, setting) is { } value && value > above && !seen.Any(i => i.Is(trait)))
                {
                    yield return Found(
                        layer.Name,
                        null,
                        setting,
                        FormattableString.Invariant(
                            $"{layer.Name} renders with {value:0.##} {RenderSettings.Find(setting)!.Words}, and nothing that it shows {nothing}."
                        ),
                        $"Set it to {cheap}.",
                        new SetSettings([layer.Name], setting, cheap)
                    );
                }
            }

            bool onlyExact =
                layer.Passes.Any()
                && layer.Passes.All(p => context.Plan.Catalogue.Find(p.Pass)?.Kind is PassKind.Data or PassKind.Identity);
            if (onlyExact && RenderSettings.NumberOf(context.Plan, layer, "samples") is > 16 and var samples)
            {
                yield return Found(
                    layer.Name,
                    null,
                    "samples",
                    FormattableString.Invariant(
                        $"{layer.Name} puts out data alone, which is not filtered, with {samples:0} samples per pixel."
                    ),
                    "Set it to 1.",
                    new SetSettings([layer.Name], "samples", "1")
                );
            }
        }
    }
}

/// <summary>No render camera, or one that the scene's roster does not have.</summary>
public sealed class PlanCamera : SceneRule
{
    public override string Id => "plan.camera";

    public override string Title => "No such camera";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "No render camera, or not one of the scene's";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        string camera = context.Plan.Shot.Camera;
        string[] cameras = [.. context.Plan.Items.Where(i => i.Kind == ItemKind.Camera).Select(i => i.Name)];
        if (camera.Length == 0)
        {
            yield return Found(
                null,
                null,
                "camera",
                "The shot names no render camera.",
                cameras.Length > 0 ? $"Choose {Names(cameras)}." : "Name the camera to render through.",
                cameras.Length == 1 ? new SetShot { Camera = cameras[0] } : null
            );
        }
        else if (cameras.Length > 0 && !cameras.Contains(camera))
        {
            yield return Found(
                null,
                null,
                "camera",
                $"The shot renders through {camera}; the scene has {Names(cameras)}.",
                "Choose one of the scene's, or put it into the roster.",
                cameras.Length == 1 ? new SetShot { Camera = cameras[0] } : null
            );
        }
    }
}

/// <summary>A mask or id pass whose layer leaves out items that pass in front, without holding them out.</summary>
public sealed class PlanHoldout : SceneRule
{
    public override string Id => "plan.holdout";

    public override string Title => "Mask without a holdout";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A mask whose item is crossed by items that are neither holdouts nor in it";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from layer in context.Layers
        let masks = layer
            .Passes.Where(p => context.Plan.Catalogue.Find(p.Pass)?.Kind is PassKind.Mask or PassKind.Identity)
            .Select(p => p.Pass)
            .ToArray()
        where masks.Length > 0
        let crossing = PassContents.Crossing(context.Plan, layer)
        where !crossing.IsEmpty
        select Found(
            layer.Name,
            masks[0],
            "roles",
            $"{Names(crossing.Select(c => c.Item))} of {Names(crossing.Select(c => c.Layer).Distinct())} may pass in front of {layer.Name} and {(crossing.Length == 1 ? "is" : "are")} no holdout in it: {Names(masks)} will be wrong there.",
            $"Make {(crossing.Length == 1 ? "it a holdout" : "them holdouts")}.",
            new SetRoles([.. crossing.Select(c => c.Item)], [layer.Name], ItemRole.Holdout)
        );
}
