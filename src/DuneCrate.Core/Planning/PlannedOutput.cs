using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Naming;

namespace DuneCrate.Core.Planning;

/// <summary>
/// One sequence or still that must exist: an output of the plan with everything but the frame filled in; for a template with
/// <c>{pass}</c> there is one for each pass.
/// </summary>
/// <param name="Shot">The shot.</param>
/// <param name="Layer">The layer.</param>
/// <param name="Output">The output it comes from.</param>
/// <param name="Name">Its name with a place for the frame.</param>
/// <param name="Frames">Its frames: its own, else the layer's, else the shot's.</param>
/// <param name="Passes">The passes in its files.</param>
public sealed record PlannedOutput(ShotPlan Shot, LayerPlan Layer, OutputPlan Output, FrameName Name, FrameSet Frames, ImmutableArray<PassPlan> Passes)
{
    /// <summary>Name for reports: <c>sub/KP010_sub.####.exr</c>.</summary>
    public string Key { get; } = Name.ToString();

    /// <summary>Whether one file is planned on purpose.</summary>
    public bool IsStill => Frames.IsStill;

    /// <summary>Whether the layer's beauty is in these files.</summary>
    public bool HasBeauty => Passes.Any(p => p.Pass == "beauty");

    /// <summary>Short name for lanes and rungs: the pass, or what the file mostly holds.</summary>
    public string ShortName => Passes.Length switch
    {
        0 => "empty",
        1 => Passes[0].Pass,
        _ when HasBeauty => "beauty + light",
        2 => $"{Passes[0].Pass}, {Passes[1].Pass}",
        _ => $"{Passes[0].Pass}, {Passes[1].Pass} +{Passes.Length - 2}",
    };

    /// <summary>Every output of a plan, in the plan's order.</summary>
    public static ImmutableArray<PlannedOutput> Of(Plan plan)
    {
        var outputs = ImmutableArray.CreateBuilder<PlannedOutput>();
        foreach (LayerPlan layer in plan.Layers)
        {
            foreach (OutputPlan output in layer.Outputs)
            {
                if (!NameTemplate.TryParse(output.Template, out NameTemplate? template, out _))
                {
                    continue;
                }

                FrameSet frames = output.Frames ?? layer.Frames ?? plan.Shot.Frames;
                foreach (ImmutableArray<PassPlan> passes in template.IsPerPass ? output.Passes.Select(p => ImmutableArray.Create(p)) : [output.Passes])
                {
                    outputs.Add(new PlannedOutput(plan.Shot, layer, output, template.Fill(Values(plan, layer, passes), output.Padding), frames, passes));
                }
            }
        }

        return outputs.ToImmutable();
    }

    private static Dictionary<string, string> Values(Plan plan, LayerPlan layer, ImmutableArray<PassPlan> passes) => new()
    {
        ["show"] = plan.Show.Code,
        ["shot"] = plan.Shot.Code,
        ["layer"] = layer.Name,
        ["version"] = plan.Shot.Version ?? "v001",
        ["pass"] = passes.Length == 1 ? passes[0].Pass.Replace('.', '_') : "",
    };
}
