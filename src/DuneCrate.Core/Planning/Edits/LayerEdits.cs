using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Merging;
using DuneCrate.Core.Planning.Sheet;

namespace DuneCrate.Core.Planning.Edits;

/// <summary>Adds a layer with a beauty, or one that is based on another.</summary>
public sealed record AddLayer(string Name, AlphaMode Alpha = AlphaMode.Premultiplied, string? BasedOn = null) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => BasedOn is null ? $"layer {Name} added" : $"layer {Name} added, based on {BasedOn}";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        LayerNames.Check(plan, Name);
        var layer = new LayerPlan { Name = Name, Alpha = Alpha };
        layer = BasedOn is null
            ? PassSheet.Write(plan, layer, "beauty", SheetCell.Planned)
            : PlanMerge.Base(
                layer,
                plan.FindLayer(BasedOn) ?? throw new PlanEditException("basedOn", $"There is no layer {BasedOn} to base it on.")
            );
        return plan with { Layers = plan.Layers.Add(layer) };
    }
}

/// <summary>Copies a layer with all its passes and roles; the copy stands behind it.</summary>
public sealed record DuplicateLayer(string Layer, string Name) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => $"layer {Layer} copied to {Name}";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        LayerNames.Check(plan, Name);
        LayerPlan layer = plan.FindLayer(Layer) ?? throw new PlanEditException("layer", $"There is no layer {Layer} any more.");
        return plan with { Layers = plan.Layers.Insert(plan.Layers.IndexOf(layer) + 1, LayerNames.Renamed(layer, Layer, Name)) };
    }
}

/// <summary>
/// Renames a layer; templates that spell its name, channels that begin with it, layers based on it and the test frame follow. Names made
/// of <c>{layer}</c> follow by themselves.
/// </summary>
public sealed record RenameLayer(string Layer, string Name) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => $"layer {Layer} renamed to {Name}";

    /// <summary>Every path that changes: the name of each output before and after.</summary>
    public static ImmutableArray<(string Before, string After)> Paths(Plan before, Plan after) =>
        [.. PlannedOutput.Of(before).Zip(PlannedOutput.Of(after), (a, b) => (a.Key, b.Key)).Where(p => p.Item1 != p.Item2)];

    private OrderedDictionary<string, double>? Moved(OrderedDictionary<string, double>? ratios) =>
        ratios is null
            ? null
            : new OrderedDictionary<string, double>(
                ratios.Select(r =>
                    KeyValuePair.Create(
                        r.Key.StartsWith(Layer + "/", StringComparison.Ordinal) ? Name + r.Key[Layer.Length..] : r.Key,
                        r.Value
                    )
                )
            );

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        if (Name == Layer)
        {
            return plan;
        }

        LayerNames.Check(plan, Name, but: Layer);
        Plan changed = ChangeLayer(plan, Layer, layer => LayerNames.Renamed(layer, Layer, Name));
        changed = changed with { Layers = [.. changed.Layers.Select(l => l.BasedOn == Layer ? l with { BasedOn = Name } : l)] };
        return plan.Shot.TestFrame is { } test
            ? changed with
            {
                Shot = changed.Shot with
                {
                    TestFrame = test with
                    {
                        Seconds = LayerNames.Rekeyed(test.Seconds, Layer, Name),
                        Ratios = Moved(test.Ratios),
                        Bytes = null,
                    },
                },
            }
            : changed;
    }
}

/// <summary>Takes a layer out. Layers based on it stay as they are, on their own.</summary>
public sealed record RemoveLayer(string Layer) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => $"layer {Layer} removed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) => plan with { Layers = plan.Layers.RemoveAll(l => l.Name == Layer) };
}

/// <summary>Moves a layer in the order of the ladder: by −1 nearer to the camera, by 1 farther away.</summary>
public sealed record MoveLayer(string Layer, int By) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => $"layer {Layer} moved";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        LayerPlan layer = plan.FindLayer(Layer) ?? throw new PlanEditException("layer", $"There is no layer {Layer} any more.");
        int from = plan.Layers.IndexOf(layer),
            to = Math.Clamp(from + By, 0, plan.Layers.Length - 1);
        return plan with { Layers = plan.Layers.RemoveAt(from).Insert(to, layer) };
    }
}

/// <summary>Sets fields of a layer; those that are null stay as they are, an empty text clears.</summary>
public sealed record SetLayer(string Layer) : PlanEdit
{
    /// <summary>Whether it is kept and not rendered now.</summary>
    public bool? Off { get; init; }

    /// <summary>Its frames as text.</summary>
    public string? Frames { get; init; }

    /// <summary>Its group.</summary>
    public string? Group { get; init; }

    /// <summary>How alpha is to be read; the beauty gains or loses its alpha channel.</summary>
    public AlphaMode? Alpha { get; init; }

    /// <summary>Which passes sum to the beauty, as "diffuse + specular".</summary>
    public string? Rebuild { get; init; }

    /// <summary>The layer it is to follow; what it has stays as its differences.</summary>
    public string? BasedOn { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => Off is { } off ? $"layer {Layer} switched {(off ? "off" : "on")}" : $"layer {Layer} changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) =>
        ChangeLayer(
            plan,
            Layer,
            layer =>
            {
                if (Frames is not null)
                {
                    layer = layer with
                    {
                        Frames = FrameSet.TryParse(Frames, out FrameSet? set, out string? problem)
                            ? (set.IsEmpty ? null : set)
                            : throw new PlanEditException("frames", problem),
                    };
                }

                if (Rebuild is not null)
                {
                    layer = layer with { Rebuild = Terms(plan, layer) };
                }

                if (BasedOn is { Length: > 0 } && (plan.FindLayer(BasedOn) is null || Ring(plan, BasedOn)))
                {
                    throw new PlanEditException(
                        "basedOn",
                        plan.FindLayer(BasedOn) is null
                            ? $"There is no layer {BasedOn}."
                            : $"{BasedOn} follows {Layer} itself; two layers cannot follow each other."
                    );
                }

                return WithAlpha(plan, layer) with
                {
                    Off = Off ?? layer.Off,
                    Group =
                        Group is null ? layer.Group
                        : Group.Trim() is { Length: > 0 } group ? group
                        : null,
                    BasedOn =
                        BasedOn is null ? layer.BasedOn
                        : BasedOn.Length > 0 ? BasedOn
                        : null,
                };
            }
        );

    private LayerPlan WithAlpha(Plan plan, LayerPlan layer)
    {
        if (Alpha is not { } alpha || alpha == layer.Alpha)
        {
            return layer;
        }

        bool changes = (alpha == AlphaMode.None) != (layer.Alpha == AlphaMode.None);
        return layer with
        {
            Alpha = alpha,
            Outputs = !changes
                ? layer.Outputs
                :
                [
                    .. layer.Outputs.Select(o =>
                        o with
                        {
                            Passes =
                            [
                                .. o.Passes.Select(p =>
                                    plan.Catalogue.Find(p.Pass)?.Kind == PassKind.Combined
                                        ? PassSheet.WithAlpha(p, alpha != AlphaMode.None)
                                        : p
                                ),
                            ],
                        }
                    ),
                ],
        };
    }

    private ImmutableArray<RebuildTerm> Terms(Plan plan, LayerPlan layer)
    {
        ImmutableArray<RebuildTerm> terms;
        try
        {
            terms = RebuildProposal.Parse(Rebuild);
        }
        catch (FormatException e)
        {
            throw new PlanEditException("rebuild", e.Message);
        }

        string? unknown = terms.SelectMany(t => t.Factors).FirstOrDefault(f => layer.FindPass(f) is null);
        return unknown is null
            ? terms
            : throw new PlanEditException(
                "rebuild",
                plan.Catalogue.TryFind(unknown, out _)
                    ? $"The sum adds {unknown}, which the layer does not put out; plan it or take it from the sum."
                    : PlanValidation.UnknownPass(unknown, plan.Catalogue)
            );
    }

    private bool Ring(Plan plan, string on)
    {
        for (string? at = on; at is not null; at = plan.FindLayer(at)?.BasedOn)
        {
            if (at == Layer)
            {
                return true;
            }
        }

        return false;
    }
}

/// <summary>Replaces the list of what is changed in the scene for a layer.</summary>
public sealed record SetChanges(string Layer, ImmutableArray<LayerChange> Changes) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => $"changes for {Layer} listed anew";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) =>
        ChangeLayer(
            plan,
            Layer,
            layer =>
                layer with
                {
                    Changes =
                        Changes.IsDefaultOrEmpty ? null
                        : Changes.All(c => c.What.Trim().Length > 0) ? Changes
                        : throw new PlanEditException("changes", "Say what is changed, such as material override."),
                }
        );
}

/// <summary>Names of layers: what is allowed, and what follows a new one.</summary>
internal static class LayerNames
{
    public static void Check(Plan plan, string name, string? but = null)
    {
        if (PlanValidation.NameProblem(name) is { } problem)
        {
            throw new PlanEditException("name", problem);
        }

        if (plan.Layers.Any(l => l.Name != but && l.Name.Equals(name, StringComparison.OrdinalIgnoreCase)))
        {
            throw new PlanEditException("name", $"There is a layer {name} already; file systems may not tell them apart.");
        }
    }

    /// <summary>The layer under another name, with templates that spell the name and channels that begin with it.</summary>
    public static LayerPlan Renamed(LayerPlan layer, string from, string to) =>
        layer with
        {
            Name = to,
            Outputs =
            [
                .. layer.Outputs.Select(o =>
                    o with
                    {
                        Template = Spelled(o.Template, from, to),
                        Passes =
                        [
                            .. o.Passes.Select(p =>
                                p with
                                {
                                    Channels = new OrderedDictionary<string, ChannelType>(
                                        p.Channels.Select(c =>
                                            KeyValuePair.Create(
                                                c.Key.StartsWith(from + ".", StringComparison.Ordinal) ? to + c.Key[from.Length..] : c.Key,
                                                c.Value
                                            )
                                        )
                                    ),
                                }
                            ),
                        ],
                    }
                ),
            ],
        };

    public static OrderedDictionary<string, TValue>? Rekeyed<TValue>(OrderedDictionary<string, TValue>? values, string from, string to) =>
        values is null
            ? null
            : new OrderedDictionary<string, TValue>(values.Select(v => KeyValuePair.Create(v.Key == from ? to : v.Key, v.Value)));

    /// <summary>Replaces the name where it stands as a whole word outside of tokens.</summary>
    private static string Spelled(string template, string from, string to)
    {
        for (
            int at = template.IndexOf(from, StringComparison.Ordinal);
            at >= 0;
            at = template.IndexOf(from, at + to.Length, StringComparison.Ordinal)
        )
        {
            bool isWord =
                (at == 0 || !char.IsAsciiLetterOrDigit(template[at - 1]))
                && (at + from.Length == template.Length || !char.IsAsciiLetterOrDigit(template[at + from.Length]));
            bool isToken = at > 0 && template[at - 1] == '{';
            if (isWord && !isToken)
            {
                template = template[..at] + to + template[(at + from.Length)..];
            }
            else
            {
                at += Math.Max(0, from.Length - to.Length);
            }

            if (at + to.Length > template.Length)
            {
                break;
            }
        }

        return template;
    }
}
