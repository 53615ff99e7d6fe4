using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Edits;

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
    public override string Description => Off is { } off ? $"layer {Layer} switched {(off ? "off" : "on")}" : $"layer {Layer} changed";

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
            terms =
            [
                .. RebuildSum.Parse(Rebuild).Select(t => new RebuildTerm([.. t.Factors.Select(f => PlanNames.Key(plan.Catalogue, f))])),
            ];
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
