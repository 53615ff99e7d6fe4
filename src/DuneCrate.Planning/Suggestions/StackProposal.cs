using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Imaging.Stacking.Looks;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Suggestions;

/// <summary>
/// The composite that a plan suggests: the passes that are laid in, in the order of <see cref="StackOrder"/>, and over those of a layer its
/// masks at opacity 0. Data and ids are not laid in; light passes are in the beauty, and where the plan says that they sum to it, so are
/// shadow and occlusion: those stand at opacity 0 too. Common practice.
/// </summary>
public static class StackProposal
{
    /// <summary>The proposal, with channels called as they are planned.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="isThere">Whether there are files of an output; what has none is left out.</param>
    public static StackRecipe From(Plan plan, Func<PlannedOutput, bool> isThere) =>
        From(plan, output => isThere(output) ? [.. output.Passes.SelectMany(p => p.Channels.Keys)] : default);

    /// <summary>The proposal, with channels called as they are stored.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="storedIn">The channels that the files of an output have; default where there are none: they are left out.</param>
    public static StackRecipe From(Plan plan, Func<PlannedOutput, ImmutableArray<string>> storedIn)
    {
        (PlannedOutput Output, PassPlan Pass, ImmutableArray<string> Stored)[] all =
        [
            .. from output in PlannedOutput.From(plan)
            let stored = storedIn(output)
            where !stored.IsDefault
            from pass in output.Passes
            select (output, pass, stored),
        ];
        var order = new StackOrder(plan, all.Select(p => (p.Output.Layer.Name, p.Pass.Pass)));
        var laid = all.Where(p => order.IsLaidIn(p.Pass.Pass))
            .OrderBy(p => order.KeyOf(p.Output.Layer.Name, p.Pass.Pass))
            .ToLookup(p => StackOrder.OwnerOf(plan, p.Output.Layer.Name));
        var masks = all.Where(p => plan.Catalogue.Find(p.Pass.Pass)?.Kind == PassKind.Mask).ToLookup(p => p.Output.Layer.Name);
        var strips = plan
            .Layers.Reverse()
            .SelectMany(l => laid[l.Name].Concat(masks[l.Name]))
            .Select(p => StripOf(plan, p.Output, p.Pass, p.Stored))
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

    /// <summary>A pass as a strip; null when it has none of its channels.</summary>
    /// <param name="plan">The plan, whose catalogue says how a pass is laid in.</param>
    /// <param name="output">The output that holds it.</param>
    /// <param name="pass">The pass.</param>
    /// <param name="stored">The channels that its files have.</param>
    public static StackStrip? StripOf(Plan plan, PlannedOutput output, PassPlan pass, ImmutableArray<string> stored)
    {
        string[] names = StoredNames(output, pass, stored);
        PassDefinition definition = plan.Catalogue.Find(pass.Pass) ?? PassDefinition.Create(PassKind.Look, pass.Pass, pass.Pass);
        string? alpha = names.FirstOrDefault(ChannelNames.IsAlpha);
        string[] colour = ColourOf(names);
        if (colour.Length == 0)
        {
            return null;
        }

        bool isMask = definition.Kind == PassKind.Mask,
            isHeld =
                definition.Place is StackPlace.Below or StackPlace.Above
                && plan.FindLayer(StackOrder.OwnerOf(plan, output.Layer.Name))?.Rebuild.IsEmpty == false;
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

    /// <summary>A pass as a strip that does something to what lies below it; null when the pass will not serve for it.</summary>
    /// <param name="plan">The plan, whose catalogue says what a pass is.</param>
    /// <param name="output">The output that holds it.</param>
    /// <param name="pass">The pass.</param>
    /// <param name="stored">The channels that its files have.</param>
    /// <param name="kind">What it does.</param>
    public static StackStrip? LookOf(Plan plan, PlannedOutput output, PassPlan pass, ImmutableArray<string> stored, LookKind kind)
    {
        string[] names = StoredNames(output, pass, stored);
        string[] channels = kind == LookKind.Blur ? [.. names.Take(2)] : names;
        return !Serves(plan.Catalogue.Find(pass.Pass), kind) || (kind == LookKind.Blur && channels.Length < 2) ? null
            : StripOf(plan, output, pass, stored) is { } strip
                ? strip with
                {
                    Name = $"{output.Layer.Name} {kind.ToString().ToLowerInvariant()} by {plan.Catalogue.Find(pass.Pass)!.TradeName}",
                    Channels = kind == LookKind.Blur ? channels : strip.Channels,
                    Operation = StackOperation.Over,
                    Opacity = 1,
                    Alpha = AlphaMode.None,
                    Look = kind == LookKind.Fog ? Haze : new StripLook(kind),
                    Why = null,
                }
            : null;
    }

    /// <summary>Fog that is thin enough to see a scene through; common practice.</summary>
    private static readonly StripLook Haze = new(LookKind.Fog)
    {
        Near = 5,
        Half = 20,
        Colour = [0.25, 0.3, 0.35],
    };

    /// <summary>Red, green and blue among channels, those without a layer first; else the first that is no alpha; none of none.</summary>
    public static string[] ColourOf(IReadOnlyCollection<string> names)
    {
        string? Of(string last) => names.FirstOrDefault(n => n == last) ?? names.FirstOrDefault(n => ChannelNames.LastOf(n) == last);
        return Of("R") is { } r && Of("G") is { } g && Of("B") is { } b ? [r, g, b]
            : names.Count > 0 ? [names.FirstOrDefault(n => !ChannelNames.IsAlpha(n)) ?? names.First()]
            : [];
    }

    /// <summary>Whether a pass is one that a look is made from.</summary>
    public static bool Serves(PassDefinition? definition, LookKind kind) =>
        kind switch
        {
            LookKind.Glow or LookKind.Relight => definition?.Kind == PassKind.Light,
            LookKind.Fog or LookKind.Focus => definition?.Has(PassMeasures.Depth) == true,
            _ => definition?.Has(PassMeasures.Motion) == true,
        };

    /// <summary>The stored names of a pass's channels, in the plan's order.</summary>
    public static string[] StoredNames(PlannedOutput output, PassPlan pass, ImmutableArray<string> stored) =>
        output.Held is { } held
            ? [.. held.Match(stored).Where(m => pass.Channels.ContainsKey(m.Planned)).Select(m => m.Stored)]
            : [.. pass.Channels.Keys.Where(stored.Contains)];
}
