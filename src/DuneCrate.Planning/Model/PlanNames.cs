using System.Collections.Immutable;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Planning.Model;

/// <summary>
/// Reads the names in a plan as the product's own: a pass that is called by an alias gets its key, a render setting that had another name
/// gets
/// its name of today. Channels, and the files of passes that have files of their own, keep the names that the plan gave them.
/// </summary>
public static class PlanNames
{
    /// <summary>The plan with the product's names; the same object when it has them already.</summary>
    public static Plan Resolve(Plan plan)
    {
        PassCatalogue catalogue = plan.Show.Catalogue;
        ShowPlan show = Resolve(plan.Show);
        ImmutableArray<LayerPlan> layers = Each(plan.Layers, l => Resolve(l, catalogue));
        TestFrame? test = Resolve(plan.Shot.TestFrame, catalogue);
        return ReferenceEquals(show, plan.Show) && layers == plan.Layers && ReferenceEquals(test, plan.Shot.TestFrame)
            ? plan
            : plan with
            {
                Show = show,
                Layers = layers,
                Shot = ReferenceEquals(test, plan.Shot.TestFrame) ? plan.Shot : plan.Shot with { TestFrame = test },
            };
    }

    /// <summary>The show with the product's names of render settings; the same object when it has them already.</summary>
    public static ShowPlan Resolve(ShowPlan show) =>
        Settings(show.Settings) is var settings && ReferenceEquals(settings, show.Settings) ? show : show with { Settings = settings };

    /// <summary>The key that somebody means, or the name as it is when it means none.</summary>
    public static string Key(PassCatalogue catalogue, string name) => catalogue.KeyOf(name) ?? name;

    private static LayerPlan Resolve(LayerPlan layer, PassCatalogue catalogue)
    {
        ImmutableArray<OutputPlan> outputs = Each(layer.Outputs, o => Resolve(o, catalogue));
        ImmutableArray<RebuildTerm> rebuild = layer.Rebuild.All(t => t.Factors.All(f => Key(catalogue, f) == f))
            ? layer.Rebuild
            : [.. layer.Rebuild.Select(t => new RebuildTerm([.. t.Factors.Select(f => Key(catalogue, f))]))];
        string? lead = layer.Lead is null ? null : Key(catalogue, layer.Lead);
        OrderedDictionary<string, string>? settings = Settings(layer.Settings);
        return outputs == layer.Outputs && rebuild == layer.Rebuild && lead == layer.Lead && ReferenceEquals(settings, layer.Settings)
            ? layer
            : layer with
            {
                Outputs = outputs,
                Rebuild = rebuild,
                Lead = lead,
                Settings = settings,
            };
    }

    private static OutputPlan Resolve(OutputPlan output, PassCatalogue catalogue)
    {
        ImmutableArray<PassPlan> passes = Each(
            output.Passes,
            p =>
                Key(catalogue, p.Pass) is var key && key == p.Pass
                    ? p
                    : p with
                    {
                        Pass = key,
                        FileWord = output.IsPerPass ? p.FileWord ?? PassPlan.WordOf(p.Pass) : p.FileWord,
                    }
        );
        (string template, int? padding) = NameTemplate.WithFrameToken(output.Template);
        return passes == output.Passes && template == output.Template
            ? output
            : output with
            {
                Template = template,
                Padding = padding ?? output.Padding,
                Passes = passes,
            };
    }

    private static TestFrame? Resolve(TestFrame? test, PassCatalogue catalogue)
    {
        string PlaceKey(string place) =>
            place.LastIndexOf('/') is >= 0 and int slash ? place[..(slash + 1)] + Key(catalogue, place[(slash + 1)..]) : place;
        return test?.Ratios is not { } ratios || ratios.Keys.All(k => PlaceKey(k) == k)
            ? test
            : test with
            {
                Ratios = new OrderedDictionary<string, double>(
                    ratios.Select(r => KeyValuePair.Create(PlaceKey(r.Key), r.Value)).DistinctBy(r => r.Key)
                ),
            };
    }

    private static OrderedDictionary<string, string>? Settings(OrderedDictionary<string, string>? settings) =>
        settings is null || settings.Keys.All(n => RenderSettings.NameOf(n) == n)
            ? settings
            : new OrderedDictionary<string, string>(
                settings.Select(s => KeyValuePair.Create(RenderSettings.NameOf(s.Key), s.Value)).DistinctBy(s => s.Key)
            );

    /// <summary>Every item changed; the same array when none is.</summary>
    private static ImmutableArray<T> Each<T>(ImmutableArray<T> items, Func<T, T> change)
        where T : class
    {
        ImmutableArray<T> changed = [.. items.Select(change)];
        return changed.AsSpan().SequenceEqual(items.AsSpan(), ReferenceEqualityComparer.Instance) ? items : changed;
    }
}
