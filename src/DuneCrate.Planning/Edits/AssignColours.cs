using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Edits;

/// <summary>Gives every material (every visible item where no material is listed) a flat colour, all of them far apart.</summary>
public sealed record AssignColours : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => "flat colours assigned";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        var kind = plan.Items.Any(i => i.Kind == ItemKind.Material)
            ? (Func<SceneItem, bool>)(i => i.Kind == ItemKind.Material)
            : i => i.IsVisible;
        SceneItem[] wearers = [.. plan.Items.Where(kind)];
        string[] kept = [.. wearers.Select(i => i.Colour).OfType<string>().Distinct(StringComparer.OrdinalIgnoreCase)];
        var more = new Queue<string>(FlatColours.FarApart(kept, wearers.Length));
        var used = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        return plan with
        {
            Scene = (plan.Scene ?? new SceneRoster()) with
            {
                Items =
                [
                    .. plan.Items.Select(i =>
                        !kind(i) || (i.Colour is { } own && used.Add(own))
                            ? i
                            : i with
                            {
                                Colour = more.TryDequeue(out string? free) ? free : null,
                            }
                    ),
                ],
            },
        };
    }
}
