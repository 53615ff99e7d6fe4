using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;

namespace DuneCrate.Core.Stacking;

/// <summary>
/// The composite that a plan suggests: the passes that are laid in, in the order of <see cref="StackOrder"/>, and over those of a layer its
/// masks at opacity 0. Data and ids are not laid in; light passes are in the beauty, and where the plan says that they sum to it, so are
/// shadow and occlusion: those stand at opacity 0 too. Common practice.
/// </summary>
public static class StackProposal
{
    /// <summary>The proposal.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="isThere">Whether there are files of an output; what has none is left out.</param>
    public static StackRecipe From(Plan plan, Func<PlannedOutput, bool> isThere)
    {
        (PlannedOutput Output, PassPlan Pass)[] all =
        [
            .. PlannedOutput.From(plan).Where(isThere).SelectMany(o => o.Passes.Select(p => (o, p))),
        ];
        var order = new StackOrder(plan, all.Select(p => (p.Output.Layer.Name, p.Pass.Pass)));
        var laid = all.Where(p => order.IsLaidIn(p.Pass.Pass))
            .OrderBy(p => order.KeyOf(p.Output.Layer.Name, p.Pass.Pass))
            .ToLookup(p => p.Output.Layer.Name);
        var masks = all.Where(p => plan.Catalogue.Find(p.Pass.Pass)?.Kind == PassKind.Mask).ToLookup(p => p.Output.Layer.Name);
        var strips = plan
            .Layers.Reverse()
            .SelectMany(l => laid[l.Name].Concat(masks[l.Name]))
            .Select(p => Strip(p.Output, p.Pass, plan.Catalogue.Find(p.Pass.Pass)!))
            .OfType<StackStrip>();
        return new StackRecipe
        {
            Schema = StackRecipe.SchemaName,
            Width = plan.Shot.Width,
            Height = plan.Shot.Height,
            FrameRate = plan.Shot.FrameRate,
            Frames = plan.Shot.Frames,
            Strips = [.. strips],
        };
    }

    private static StackStrip? Strip(PlannedOutput output, PassPlan pass, PassDefinition definition)
    {
        string[] names = [.. pass.Channels.Keys];
        string? Of(string last) => names.FirstOrDefault(n => ChannelNames.LastOf(n) == last);
        string? alpha = names.FirstOrDefault(ChannelNames.IsAlpha);
        string[] colour =
            Of("R") is { } r && Of("G") is { } g && Of("B") is { } b ? [r, g, b]
            : names.Length > 0 ? [names.First(n => n != alpha)]
            : [];
        if (colour.Length == 0)
        {
            return null;
        }

        bool isMask = definition.Kind == PassKind.Mask,
            isHeld = definition.Place is StackPlace.Below or StackPlace.Above && !output.Layer.Rebuild.IsEmpty;
        bool hasAlpha = alpha is not null && output.Layer.Alpha != AlphaMode.None && definition.Kind == PassKind.Combined;
        return new StackStrip
        {
            Name = $"{output.Layer.Name} {(isMask ? pass.Pass : definition.TradeName)}",
            Source = output.Name.ToString(),
            Channels = hasAlpha ? [.. colour, alpha!] : colour,
            Alpha = hasAlpha ? output.Layer.Alpha : AlphaMode.None,
            Operation = Enum.TryParse(definition.Operation, ignoreCase: true, out StackOperation operation)
                ? operation
                : StackOperation.Over,
            Hold = output.IsStill && output.Name.Padding > 0 ? output.Frames.First : null,
            Opacity = isMask || isHeld ? 0 : 1,
            Why =
                isMask ? "a mask drives an operation and is not seen"
                : isHeld ? "the beauty is the sum of its light and holds this already; raise it to deepen it"
                : definition.Place switch
                {
                    StackPlace.Below => "a shadow lies on what receives it, below the layer that casts it",
                    StackPlace.Above => "occlusion belongs to its own layer",
                    _ => null,
                },
        };
    }
}
