using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Planning;

/// <summary>Whether a layer writes one multi-channel file per frame or one file per pass.</summary>
public enum OutputArrangement
{
    /// <summary>One multi-channel file.</summary>
    Shared,

    /// <summary>A file per pass.</summary>
    PerPass,

    /// <summary>Several outputs of their own making, such as colour beside data.</summary>
    Mixed,
}

/// <summary>What can be set of a layer at once.</summary>
public sealed record LayerSettings(string Name, FrameSet? Frames, AlphaMode Alpha, OutputArrangement Arrangement, string Template, int Padding, string Compression, ImmutableArray<RebuildTerm> Rebuild);

/// <summary>Changes to a pass sheet. Every one returns a new plan and leaves the old one as it was; nothing is validated here.</summary>
public static class PassSheetEdit
{
    /// <summary>Name template of a layer's shared file.</summary>
    public const string SharedTemplate = "{layer}/{shot}_{layer}.{frame}.exr";

    /// <summary>Name template of a file per pass.</summary>
    public const string PerPassTemplate = "{layer}_{pass}/{shot}_{layer}_{pass}.{frame}.exr";

    /// <summary>How a layer's outputs are arranged.</summary>
    public static OutputArrangement ArrangementOf(LayerPlan layer) => layer.Outputs.Length switch
    {
        > 1 => OutputArrangement.Mixed,
        1 when layer.Outputs[0].Template.Contains("{pass}", StringComparison.Ordinal) => OutputArrangement.PerPass,
        _ => OutputArrangement.Shared,
    };

    /// <summary>The first of a layer's outputs, or the one it would have.</summary>
    public static OutputPlan LeadOutput(LayerPlan layer) => layer.Outputs.IsEmpty ? new OutputPlan { Template = SharedTemplate, Compression = "zip" } : layer.Outputs[0];

    /// <summary>Adds a layer with a beauty.</summary>
    public static Plan AddLayer(Plan plan, string name, AlphaMode alpha) => plan with
    {
        Layers = plan.Layers.Add(new LayerPlan
        {
            Name = name,
            Alpha = alpha,
            Outputs = [new OutputPlan { Template = SharedTemplate, Compression = "zip", Padding = Math.Max(4, PlanValidation.DigitsNeeded(plan.Shot.Frames)), Passes = [PassPlanDefaults.Make("beauty", alpha)] }],
        }),
    };

    /// <summary>Takes a layer out.</summary>
    public static Plan RemoveLayer(Plan plan, string name) => plan with { Layers = plan.Layers.RemoveAll(l => l.Name == name) };

    /// <summary>Plans a pass of a layer, or takes it out when it is planned. The sum follows when it was the proposed one.</summary>
    /// <exception cref="ArgumentException">The catalogue holds no such pass.</exception>
    public static Plan TogglePass(Plan plan, string layerName, string pass) => ChangeLayer(plan, layerName, layer =>
    {
        bool planned = layer.Outputs.Any(o => o.Passes.Any(p => p.Pass == pass));
        bool followsProposal = layer.Rebuild.SequenceEqual(RebuildProposal.Of(Passes(layer)));
        LayerPlan changed = planned ? Without(layer, pass) : With(layer, PassPlanDefaults.Make(pass, layer.Alpha));
        var left = Passes(changed).ToHashSet();
        return changed with
        {
            Rebuild = followsProposal ? RebuildProposal.Of(left) : changed.Rebuild.RemoveAll(t => !t.Factors.All(left.Contains)),
        };
    });

    /// <summary>Sets the type of all channels of a pass.</summary>
    public static Plan SetType(Plan plan, string layerName, string pass, ChannelType type) => ChangeLayer(plan, layerName, layer => layer with
    {
        Outputs = [.. layer.Outputs.Select(o => o with { Passes = [.. o.Passes.Select(p => p.Pass != pass ? p : p with { Channels = new OrderedDictionary<string, ChannelType>(p.Channels.Select(c => KeyValuePair.Create(c.Key, type))) })] })],
    });

    /// <summary>Sets a layer's name, range, alpha, arrangement, file name and sum.</summary>
    public static Plan SetLayer(Plan plan, string layerName, LayerSettings settings) => ChangeLayer(plan, layerName, layer =>
    {
        ImmutableArray<OutputPlan> outputs = layer.Outputs.IsEmpty ? [LeadOutput(layer)] : layer.Outputs;
        if (settings.Arrangement != OutputArrangement.Mixed)
        {
            // The frames of the first output hold for all when several become one.
            outputs = [outputs[0] with { Passes = [.. outputs.SelectMany(o => o.Passes)] }];
            bool fits = settings.Template.Contains("{pass}", StringComparison.Ordinal) == (settings.Arrangement == OutputArrangement.PerPass);
            string template = fits ? settings.Template : settings.Arrangement == OutputArrangement.PerPass ? PerPassTemplate : SharedTemplate;
            outputs = outputs.SetItem(0, outputs[0] with { Template = template });
        }
        else
        {
            outputs = outputs.SetItem(0, outputs[0] with { Template = settings.Template });
        }

        return layer with
        {
            Name = settings.Name,
            Frames = settings.Frames,
            Alpha = settings.Alpha,
            Rebuild = settings.Rebuild,
            Outputs = [.. outputs.Select(o => o with { Padding = settings.Padding, Compression = settings.Compression, Passes = [.. o.Passes.Select(p => FitAlpha(p, layer.Alpha, settings.Alpha))] })],
        };
    });

    /// <summary>A short sentence on what a template makes: first and last path.</summary>
    public static string Preview(Plan plan, LayerPlan layer)
    {
        PlannedOutput? output = PlannedOutput.Of(plan).FirstOrDefault(o => o.Layer == layer);
        return output is null || output.Frames.IsEmpty ? "" : output.IsStill ? output.Name.At(output.Frames.First) : $"{output.Name.At(output.Frames.First)} … {FrameName.Number(output.Frames.Last, output.Name.Padding)}";
    }

    private static IEnumerable<string> Passes(LayerPlan layer) => layer.Outputs.SelectMany(o => o.Passes).Select(p => p.Pass);

    private static LayerPlan Without(LayerPlan layer, string pass) => layer with
    {
        Outputs = [.. layer.Outputs.Select(o => o with { Passes = o.Passes.RemoveAll(p => p.Pass == pass) }).Where((o, i) => !o.Passes.IsEmpty || (i == 0 && layer.Outputs.Length == 1))],
    };

    private static LayerPlan With(LayerPlan layer, PassPlan pass)
    {
        OutputPlan lead = LeadOutput(layer);
        PassKind kind = PassCatalogue.Shipped.Find(pass.Pass)!.Kind;
        // In a layer of several outputs a pass joins those of its own kind.
        int home = Math.Max(0, layer.Outputs.ToList().FindIndex(o => o.Passes.Any(p => PassCatalogue.Shipped.Find(p.Pass)?.Kind == kind)));
        return layer.Outputs.IsEmpty
            ? layer with { Outputs = [lead with { Passes = [pass] }] }
            : layer with { Outputs = layer.Outputs.SetItem(home, layer.Outputs[home] with { Passes = layer.Outputs[home].Passes.Add(pass) }) };
    }

    private static PassPlan FitAlpha(PassPlan pass, AlphaMode before, AlphaMode after)
    {
        if (pass.Pass != "beauty" || (before == AlphaMode.None) == (after == AlphaMode.None))
        {
            return pass;
        }

        var channels = pass.Channels.Where(c => c.Key != "A").ToList();
        if (after != AlphaMode.None)
        {
            channels.Add(KeyValuePair.Create("A", channels.Count > 0 ? channels[0].Value : ChannelType.Half));
        }

        return pass with { Channels = new OrderedDictionary<string, ChannelType>(channels) };
    }

    private static Plan ChangeLayer(Plan plan, string name, Func<LayerPlan, LayerPlan> change)
    {
        int index = plan.Layers.ToList().FindIndex(l => l.Name == name);
        return index < 0 ? plan : plan with { Layers = plan.Layers.SetItem(index, change(plan.Layers[index])) };
    }
}
