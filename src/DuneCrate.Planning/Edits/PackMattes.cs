using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Edits;

/// <summary>
/// Plans the masks of a layer, up to four to a pass: one channel for each mask name among the items that the layer shows. Packed passes are
/// called matte.a, matte.b … and replace those that were packed before.
/// </summary>
public sealed record PackMattes(string Layer) : PlanEdit
{
    /// <summary>Key of the first packed pass.</summary>
    public const string FirstPass = $"{PassKeys.Matte}.a";

    private const int ChannelsPerPass = 4;

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"mattes of {Layer} packed";

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
                    string key = $"{PassKeys.Matte}.{(char)('a' + index)}";
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

    private static bool IsPacked(string pass) =>
        pass.Length == FirstPass.Length && pass.StartsWith(FirstPass[..^1], StringComparison.Ordinal);

    internal static LayerPlan Replaced(LayerPlan layer, PassPlan pass) =>
        layer with
        {
            Outputs = [.. layer.Outputs.Select(o => o with { Passes = [.. o.Passes.Select(p => p.Pass == pass.Pass ? pass : p)] })],
        };
}
