using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>
/// Renames a layer; templates that spell its name, channels that begin with it, layers based on it and the test frame follow. Names made
/// of <c>{layer}</c> follow by themselves.
/// </summary>
public sealed record RenameLayer(string Layer, string Name) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"layer {Layer} renamed to {Name}";

    /// <summary>Every path that changes: the name of each output before and after.</summary>
    public static ImmutableArray<(string Before, string After)> Paths(Plan before, Plan after) =>
        [.. PlannedOutput.From(before).Zip(PlannedOutput.From(after), (a, b) => (a.Key, b.Key)).Where(p => p.Item1 != p.Item2)];

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
