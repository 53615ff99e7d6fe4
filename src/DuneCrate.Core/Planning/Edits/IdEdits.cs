using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Sheet;
using DuneCrate.Core.Scene;

namespace DuneCrate.Core.Planning.Edits;

/// <summary>Gives every visible item without an object id, or with one that another has before it, the lowest free one.</summary>
public sealed record AssignIds : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "object ids assigned";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        var taken = new HashSet<int>();
        bool[] keeps = [.. plan.Items.Select(i => i.IsVisible && i.Id is { } id && taken.Add(id))];
        int next = 1;
        int Free()
        {
            while (!taken.Add(next))
            {
                next++;
            }

            return next;
        }

        return plan with
        {
            Scene = (plan.Scene ?? new SceneRoster()) with
            {
                Items = [.. plan.Items.Select((item, i) => !item.IsVisible || keeps[i] ? item : item with { Id = Free() })],
            },
        };
    }
}

/// <summary>Gives every material (every visible item where no material is listed) a flat colour, all of them far apart.</summary>
public sealed record AssignColours : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => "flat colours assigned";

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

/// <summary>
/// Plans the masks of a layer, up to four to a pass: one channel for each mask name among the items that the layer shows. Packed passes are
/// called matte.a, matte.b … and replace those that were packed before.
/// </summary>
public sealed record PackMattes(string Layer) : PlanEdit
{
    private const int ChannelsPerPass = 4;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => $"mattes of {Layer} packed";

    /// <summary>The masks that a layer needs, by name, with the items in each.</summary>
    public static ImmutableArray<(string Mask, ImmutableArray<string> Items)> MasksOf(Plan plan, LayerPlan layer) =>
        [
            .. plan
                .Items.Where(i => i is { Mask: not null, IsVisible: true } && layer.RoleOf(i.Name).IsSeen())
                .GroupBy(i => i.Mask!, StringComparer.Ordinal)
                .Select(g => (g.Key, g.Select(i => i.Name).ToImmutableArray())),
        ];

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) =>
        ChangeLayer(
            plan,
            Layer,
            layer =>
            {
                string[] masks = [.. MasksOf(plan, layer).Select(m => m.Mask)];
                if (masks.Length == 0)
                {
                    throw new PlanEditException("mask", $"No item that {Layer} shows has a mask name; name masks in the roster first.");
                }

                foreach (string packed in layer.AllPasses.Where(p => p.Masks is not null && IsPacked(p.Pass)).Select(p => p.Pass).ToArray())
                {
                    layer = PassSheet.Write(plan, layer, packed, default);
                }

                foreach ((string[] group, int index) in masks.Chunk(ChannelsPerPass).Select((g, i) => (g, i)))
                {
                    string key = $"matte.{(char)('a' + index)}";
                    layer = PassSheet.Write(plan, layer, key, SheetCell.Planned with { Alpha = false });
                    PassPlan pass = layer.FindPass(key)!;
                    ChannelType type = pass.Channels.Values.First();
                    string[] channels = [.. "RGBA"[..group.Length].Select(c => $"{key}.{c}")];
                    layer = Replaced(
                        layer,
                        pass with
                        {
                            Channels = new OrderedDictionary<string, ChannelType>(channels.Select(c => KeyValuePair.Create(c, type))),
                            Masks = new OrderedDictionary<string, string>(channels.Zip(group, KeyValuePair.Create)),
                        }
                    );
                }

                return layer;
            }
        );

    private static bool IsPacked(string pass) => pass.Length == "matte.a".Length && pass.StartsWith("matte.", StringComparison.Ordinal);

    internal static LayerPlan Replaced(LayerPlan layer, PassPlan pass) =>
        layer with
        {
            Outputs = [.. layer.Outputs.Select(o => o with { Passes = [.. o.Passes.Select(p => p.Pass == pass.Pass ? pass : p)] })],
        };
}

/// <summary>Says which object ids a pass asks for; an empty text asks for all of them.</summary>
public sealed record SetAskedIds(string Layer, string Pass, string Ids) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => $"ids of {Pass} of {Layer} set";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) =>
        ChangeLayer(
            plan,
            Layer,
            layer =>
            {
                PassPlan pass = layer.FindPass(Pass) ?? throw new PlanEditException("ids", $"{Layer} does not plan {Pass}.");
                return FrameSet.TryParse(Ids, out FrameSet? ids, out string? problem)
                    ? PackMattes.Replaced(layer, pass with { Ids = ids.IsEmpty ? null : ids })
                    : throw new PlanEditException(
                        "ids",
                        problem.Replace(
                            "a frame or a range of frames; write 1001, 1001-1048 or 1001-1048x2",
                            "an id or a range of ids; write 1,3-5",
                            StringComparison.Ordinal
                        )
                    );
            }
        );
}
