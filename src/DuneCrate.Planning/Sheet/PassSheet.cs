using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Sheet;

/// <summary>Reads and writes single cells of a plan. Every change returns a new layer; nothing is judged here.</summary>
public static class PassSheet
{
    /// <summary>Name template of a layer's shared file.</summary>
    public const string SharedTemplate = "{layer}/{shot}_{layer}.{frame}.exr";

    /// <summary>Name template of a layer's file for data and identity.</summary>
    public const string DataTemplate = "{layer}_data/{shot}_{layer}_data.{frame}.exr";

    /// <summary>Name template of a file per pass.</summary>
    public const string OwnTemplate = "{layer}_{pass}/{shot}_{layer}_{pass}.{frame}.exr";

    /// <summary>The file that an output is: per pass, the first shared one, or a further shared one.</summary>
    public static PassHome HomeOf(LayerPlan layer, OutputPlan output) =>
        output.IsPerPass ? PassHome.Own
        : layer.Outputs.FirstOrDefault(o => !o.IsPerPass) == output && !IsDataOnly(layer, output) ? PassHome.Shared
        : PassHome.Data;

    /// <summary>The cell of a layer and a pass.</summary>
    public static SheetCell Read(Plan plan, LayerPlan layer, string pass)
    {
        foreach (OutputPlan output in layer.Outputs)
        {
            if (output.Passes.FirstOrDefault(p => p.Pass == pass) is { } found)
            {
                PassDefinition? definition = plan.Catalogue.Find(pass);
                bool hasAlpha = found.Channels.Keys.Any(ChannelNames.IsAlpha);
                return new SheetCell
                {
                    IsPlanned = true,
                    IsOff = found.Off,
                    Type = found.Channels.Count > 0 ? found.Channels.Values.First() : null,
                    Home = HomeOf(layer, output),
                    IsLead = layer.Lead == pass,
                    Filtered = found.Filtered == definition?.Filtered ? null : found.Filtered,
                    Threshold = found.Threshold,
                    Near = found.Near,
                    Far = found.Far,
                    Alpha = definition is not null && hasAlpha != UsuallyHasAlpha(definition, layer.Alpha) ? hasAlpha : null,
                    Frames = found.Frames,
                };
            }
        }

        return default;
    }

    /// <summary>
    /// Writes a cell. A pass that is planned anew gets the catalogue's channels; one that was planned keeps its channel names, masks and
    /// ids. The sum of the layer follows when it was the proposed one, and is otherwise only cleared of what is gone.
    /// </summary>
    /// <exception cref="ArgumentException">The catalogue holds no such pass.</exception>
    public static LayerPlan Write(Plan plan, LayerPlan layer, string pass, SheetCell cell)
    {
        PassCatalogue catalogue = plan.Catalogue;
        bool followsProposal = layer.Rebuild.SequenceEqual(RebuildSum.Propose(catalogue, layer.AllPasses.Select(p => p.Pass)));
        LayerPlan changed = cell.IsPlanned ? Put(plan, layer, pass, cell) : Without(layer, pass);
        if (changed.Lead == pass && !(cell.IsPlanned && cell.IsLead))
        {
            changed = changed with { Lead = null };
        }

        var left = changed.AllPasses.Select(p => p.Pass).ToHashSet();
        return changed with
        {
            Lead = cell.IsPlanned && cell.IsLead ? pass : changed.Lead,
            Rebuild = followsProposal ? RebuildSum.Propose(catalogue, left) : changed.Rebuild.RemoveAll(t => !t.Factors.All(left.Contains)),
        };
    }

    /// <summary>A pass with or without an alpha channel, of its other channels' type and naming.</summary>
    public static PassPlan WithAlpha(PassPlan pass, bool alpha)
    {
        var channels = pass.Channels.Where(c => !ChannelNames.IsAlpha(c.Key)).ToList();
        if (alpha)
        {
            string first = channels.Count > 0 ? channels[0].Key : "";
            channels.Add(
                KeyValuePair.Create(first[..(first.LastIndexOf('.') + 1)] + "A", channels.Count > 0 ? channels[0].Value : ChannelType.Half)
            );
        }

        return pass with
        {
            Channels = new OrderedDictionary<string, ChannelType>(channels),
        };
    }

    /// <summary>Whether a pass has alpha unless somebody says otherwise: the finished picture of a layer that has.</summary>
    public static bool UsuallyHasAlpha(PassDefinition pass, AlphaMode alpha) =>
        pass.Kind == PassKind.Combined ? alpha != AlphaMode.None : pass.Channels.Any(ChannelNames.IsAlpha);

    private static LayerPlan Put(Plan plan, LayerPlan layer, string key, SheetCell cell)
    {
        PassPlan? was = layer.FindPass(key);
        PassDefinition definition =
            plan.Catalogue.Find(key) ?? throw new ArgumentException(PlanValidation.UnknownPass(key, plan.Catalogue));
        PassPlan pass = was ?? PassPlanDefaults.Create(key, layer.Alpha, plan.Catalogue);
        if (cell.Type is { } type && pass.Channels.Values.Any(t => t != type))
        {
            pass = pass with
            {
                Channels = new OrderedDictionary<string, ChannelType>(pass.Channels.Select(c => KeyValuePair.Create(c.Key, type))),
            };
        }

        bool alpha = cell.Alpha ?? UsuallyHasAlpha(definition, layer.Alpha);
        if (
            !definition.Has(PassMeasures.Cryptomatte)
            && definition.Key != PassKeys.Alpha
            && pass.Channels.Keys.Any(ChannelNames.IsAlpha) != alpha
            && (was is null || cell.Alpha is not null || definition.Kind == PassKind.Combined)
        )
        {
            pass = WithAlpha(pass, alpha);
        }

        pass = pass with
        {
            Off = cell.IsOff,
            Filtered = cell.Filtered,
            Threshold = cell.Threshold,
            Near = cell.Near,
            Far = cell.Far,
            Frames = cell.Frames,
        };
        PassHome home = cell.Frames is not null
            ? PassHome.Own
            : cell.Home ?? (was is not null ? HomeOf(layer, layer.Outputs.First(o => o.Passes.Contains(was))) : Usual(layer, definition));
        return Place(plan, layer, pass, home);
    }

    /// <summary>Where a new pass goes: beside the passes of its kind when the layer keeps those apart, else into the shared file.</summary>
    private static PassHome Usual(LayerPlan layer, PassDefinition definition)
    {
        return layer.Outputs.Length > 0 && layer.Outputs.All(o => o.IsPerPass) ? PassHome.Own
            : definition.IsExact && layer.Outputs.Any(o => HomeOf(layer, o) == PassHome.Data) ? PassHome.Data
            : PassHome.Shared;
    }

    private static LayerPlan Place(Plan plan, LayerPlan layer, PassPlan pass, PassHome home)
    {
        ImmutableArray<OutputPlan> outputs = layer.Outputs;
        int now = outputs.ToList().FindIndex(o => o.Passes.Any(p => p.Pass == pass.Pass)),
            target = now >= 0 && HomeOf(layer, outputs[now]) == home ? now : IndexOf(layer, home);
        if (target < 0)
        {
            outputs = home == PassHome.Shared ? outputs.Insert(0, New(plan, layer, home)) : outputs.Add(New(plan, layer, home));
            target = home == PassHome.Shared ? 0 : outputs.Length - 1;
        }

        now = outputs.ToList().FindIndex(o => o.Passes.Any(p => p.Pass == pass.Pass));
        if (now == target)
        {
            int at = outputs[now].Passes.ToList().FindIndex(p => p.Pass == pass.Pass);
            return layer with { Outputs = outputs.SetItem(now, outputs[now] with { Passes = outputs[now].Passes.SetItem(at, pass) }) };
        }

        pass = home == PassHome.Own ? pass : Distinct(plan, pass, outputs[target]);
        outputs = outputs.SetItem(target, outputs[target] with { Passes = outputs[target].Passes.Add(pass) });
        outputs =
            now < 0
                ? outputs
                : outputs.SetItem(now, outputs[now] with { Passes = outputs[now].Passes.RemoveAll(p => p.Pass == pass.Pass) });
        return layer with { Outputs = Pruned(outputs) };
    }

    /// <summary>
    /// A pass with the catalogue's names for its channels where its own are taken in the file that it goes into: in a file of its own any
    /// pass may call them R, G and B.
    /// </summary>
    private static PassPlan Distinct(Plan plan, PassPlan pass, OutputPlan into)
    {
        var taken = into.Passes.SelectMany(p => p.Channels.Keys).ToHashSet();
        if (!pass.Channels.Keys.Any(taken.Contains))
        {
            return pass;
        }

        string[] names = [.. plan.Catalogue.Find(pass.Pass)?.ChannelNames(pass.Pass) ?? []];
        bool fits = names.Length == pass.Channels.Count && !names.Any(taken.Contains);
        return pass with
        {
            Channels = new OrderedDictionary<string, ChannelType>(
                pass.Channels.Select(
                    (c, i) => KeyValuePair.Create(fits ? names[i] : $"{pass.Pass}.{Foundation.Passes.ChannelNames.LastOf(c.Key)}", c.Value)
                )
            ),
        };
    }

    private static LayerPlan Without(LayerPlan layer, string pass) =>
        layer with
        {
            Outputs = Pruned([.. layer.Outputs.Select(o => o with { Passes = o.Passes.RemoveAll(p => p.Pass == pass) })]),
        };

    /// <summary>Without outputs that have become empty; one stays, so that the layer's naming is not lost.</summary>
    private static ImmutableArray<OutputPlan> Pruned(ImmutableArray<OutputPlan> outputs) =>
        outputs.All(o => o.Passes.IsEmpty) ? [.. outputs.Take(1)] : outputs.RemoveAll(o => o.Passes.IsEmpty);

    private static int IndexOf(LayerPlan layer, PassHome home) => layer.Outputs.ToList().FindIndex(o => HomeOf(layer, o) == home);

    private static bool IsDataOnly(LayerPlan layer, OutputPlan output) =>
        layer.Outputs.Count(o => !o.IsPerPass) == 1 && output.Template.Contains("{layer}_data", StringComparison.Ordinal);

    /// <summary>An output of a layer as the show names things.</summary>
    internal static OutputPlan New(Plan plan, LayerPlan layer, PassHome home)
    {
        OutputPlan? like = layer.Outputs.FirstOrDefault();
        int padding =
            like?.Padding ?? Math.Max(plan.Show.Padding ?? 4, plan.Shot.Frames.IsEmpty ? 1 : PlanValidation.DigitsNeeded(plan.Shot.Frames));
        string template = home switch
        {
            PassHome.Data => DataTemplate,
            PassHome.Own => OwnTemplate,
            _ => plan.Show.Template is { } shows && !shows.Contains("{pass}", StringComparison.Ordinal) ? shows : SharedTemplate,
        };
        return new OutputPlan
        {
            Template = template,
            Compression = like?.Compression ?? "zip",
            Padding = padding,
        };
    }
}
