using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;

namespace DuneCrate.Core.Stacking;

/// <summary>
/// The order of passes that are laid in, from the bottom: layers from the farthest to the nearest, which a plan lists first; in a layer by
/// the catalogue's places. Below the farthest layer is nothing that a shadow could fall on: its own lies over its beauty. Light passes
/// rebuild the beauty and are not laid in beside it. Common practice.
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
        _farthest = passes.Where(p => IsLaidIn(p.Pass)).Select(p => _layers[p.Layer]).DefaultIfEmpty().Max();
    }

    /// <summary>Whether a pass is laid in.</summary>
    public bool IsLaidIn(string pass) => PlaceOf(pass) != StackPlace.None;

    /// <summary>What passes that are laid in are ordered by: how near the layer is, and how high the pass lies in it.</summary>
    public (int Nearness, int Height) KeyOf(string layer, string pass)
    {
        StackPlace place = PlaceOf(pass);
        bool isRaised = _layers[layer] == _farthest && place == StackPlace.Below;
        return (-_layers[layer], isRaised ? 2 * (int)StackPlace.Base + 1 : 2 * (int)place);
    }

    private StackPlace PlaceOf(string pass) => _plan.Catalogue.Find(pass)?.Place ?? StackPlace.None;
}
