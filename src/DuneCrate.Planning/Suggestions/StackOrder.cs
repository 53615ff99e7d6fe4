using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Suggestions;

/// <summary>
/// The order of passes that are laid in, from the bottom: layers from the farthest to the nearest, which a plan lists first; in a layer by
/// the catalogue's places. Below the farthest layer is nothing that a shadow could fall on: its own lies over its beauty. Light passes
/// rebuild the beauty and are not laid in beside it. A layer that is based on another and has no beauty of its own, such as occlusion that
/// is
/// rendered apart, belongs to that one. Common practice.
/// </summary>
public sealed class StackOrder
{
    private readonly Plan _plan;
    private readonly Dictionary<string, int> _layers;
    private readonly int _farthest;

    /// <summary>The order of some passes.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="passes">Layer and key of every pass that there is.</param>
    public StackOrder(Plan plan, IEnumerable<(string Layer, string Pass)> passes)
    {
        _plan = plan;
        _layers = plan.Layers.Index().ToDictionary(l => l.Item.Name, l => l.Index);
        _farthest = passes.Where(p => IsLaidIn(p.Pass)).Select(p => _layers[OwnerOf(_plan, p.Layer)]).DefaultIfEmpty().Max();
    }

    /// <summary>Whether a pass is laid in.</summary>
    public bool IsLaidIn(string pass) => PlaceOf(pass) != StackPlace.None;

    /// <summary>What passes that are laid in are ordered by: how near the layer is, and how high the pass lies in it.</summary>
    public (int Nearness, int Height) KeyOf(string layer, string pass)
    {
        StackPlace place = PlaceOf(pass);
        int owner = _layers[OwnerOf(_plan, layer)];
        bool isRaised = owner == _farthest && place == StackPlace.Below;
        return (-owner, isRaised ? 2 * (int)StackPlace.Base + 1 : 2 * (int)place);
    }

    /// <summary>The layer that a layer's passes belong to: itself, or the one that it is based on where it has no beauty of its
    /// own.</summary>
    public static string OwnerOf(Plan plan, string layer)
    {
        for (int i = 0; i < plan.Layers.Length; i++)
        {
            if (
                plan.FindLayer(layer) is not { BasedOn: { } on } own
                || own.FindPass(PassKeys.Beauty) is not null
                || plan.FindLayer(on) is null
            )
            {
                break;
            }

            layer = on;
        }

        return layer;
    }

    private StackPlace PlaceOf(string pass) => _plan.Catalogue.Find(pass)?.Place ?? StackPlace.None;
}
