using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Planning.Model;

/// <summary>
/// One sequence or still that must exist: an output of the plan with everything but the frame filled in; for a template with
/// <c>{pass}</c> there is one for each pass.
/// </summary>
/// <param name="Plan">The plan it comes from.</param>
/// <param name="Layer">The layer.</param>
/// <param name="Output">The output it comes from.</param>
/// <param name="Name">Its name with a place for the frame.</param>
/// <param name="Frames">Its frames: its own, else the layer's, else the shot's.</param>
/// <param name="Passes">The passes in its files.</param>
public sealed record PlannedOutput(
    Plan Plan,
    LayerPlan Layer,
    OutputPlan Output,
    FrameName Name,
    FrameSet Frames,
    ImmutableArray<PassPlan> Passes
)
{
    /// <summary>Name for reports: <c>sub/KP010_sub.####.exr</c>.</summary>
    public string Key { get; } = Name.ToString();

    /// <summary>The shot.</summary>
    public ShotPlan Shot => Plan.Shot;

    /// <summary>Whether one file is planned on purpose.</summary>
    public bool IsStill => Frames.IsStill;

    /// <summary>The pass of files that hold one; null for files with several.</summary>
    public HeldPass? Held { get; } =
        Passes.Length == 1 ? HeldPass.Create(Passes[0].Pass, Plan.Catalogue.Find(Passes[0].Pass), Passes[0].Channels.Keys) : null;

    /// <summary>Whether the layer's beauty is in these files.</summary>
    public bool HasBeauty => Passes.Any(p => p.Pass == PassKeys.Beauty);

    /// <summary>Short name for lanes and rungs: the pass, or what the file mostly holds.</summary>
    public string ShortName =>
        Passes.Length switch
        {
            0 => "empty",
            1 => Passes[0].Pass,
            _ when HasBeauty => "beauty + light",
            2 => $"{Passes[0].Pass}, {Passes[1].Pass}",
            _ => $"{Passes[0].Pass}, {Passes[1].Pass} +{Passes.Length - 2}",
        };

    /// <summary>One place in one plan; two are equal only when they are the same object.</summary>
    public bool Equals(PlannedOutput? other) => ReferenceEquals(this, other);

    /// <inheritdoc/>
    public override int GetHashCode() => Key.GetHashCode(StringComparison.Ordinal);

    /// <summary>Every output of a plan that is rendered, in the plan's order; what is off is left out.</summary>
    public static ImmutableArray<PlannedOutput> From(Plan plan)
    {
        var outputs = ImmutableArray.CreateBuilder<PlannedOutput>();
        foreach (LayerPlan layer in plan.Layers)
        {
            foreach (OutputPlan output in layer.Off ? [] : layer.Outputs)
            {
                ImmutableArray<PassPlan> rendered = output.Passes.RemoveAll(p => p.Off);
                if (rendered.IsEmpty && !output.Passes.IsEmpty)
                {
                    continue;
                }

                if (!NameTemplate.TryParse(output.Template, out NameTemplate? template, out _))
                {
                    continue;
                }

                FrameSet frames = output.Frames ?? layer.Frames ?? plan.Shot.Frames;
                foreach (
                    ImmutableArray<PassPlan> passes in template.IsPerPass ? rendered.Select(p => ImmutableArray.Create(p)) : [rendered]
                )
                {
                    outputs.Add(
                        new PlannedOutput(
                            plan,
                            layer,
                            output,
                            template.Fill(Values(plan, layer, passes), Math.Clamp(output.Padding, 1, PlanLimits.MaxPadding)),
                            (template.IsPerPass ? passes[0].Frames : null) ?? frames,
                            passes
                        )
                    );
                }
            }
        }

        return outputs.ToImmutable();
    }

    private static Dictionary<string, string> Values(Plan plan, LayerPlan layer, ImmutableArray<PassPlan> passes) =>
        new()
        {
            ["show"] = plan.Show.Code,
            ["shot"] = plan.Shot.Code,
            ["layer"] = layer.Name,
            ["version"] = plan.Shot.Version ?? VersionStyle.Write(plan.Show.VersionStyle, 1),
            ["pass"] = passes.Length == 1 ? passes[0].FileWord ?? PassPlan.WordOf(passes[0].Pass) : "",
        };
}
