using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;

namespace DuneCrate.Planning.Model;

/// <summary>How a pass is planned unless somebody says otherwise.</summary>
public static class PassPlanDefaults
{
    /// <summary>
    /// A pass with the catalogue's channels, named as OpenEXR has it (<c>R G B A</c> and <c>Z</c> at the root, <c>pass.R</c> in a layer),
    /// at
    /// the catalogue's usual type.
    /// </summary>
    /// <exception cref="ArgumentException">The catalogue holds no such pass.</exception>
    public static PassPlan Create(string key, AlphaMode alpha, PassCatalogue? catalogue = null)
    {
        catalogue ??= PassCatalogue.Shipped;
        key = PlanNames.Key(catalogue, key);
        PassDefinition pass = catalogue.Find(key) ?? throw new ArgumentException(PlanValidation.UnknownPass(key, catalogue));
        IEnumerable<string> channels = pass.ChannelNames(key);
        if (pass.Kind == PassKind.Combined && alpha == AlphaMode.None)
        {
            channels = channels.Where(c => !ChannelNames.IsAlpha(c));
        }

        return new PassPlan
        {
            Pass = key,
            Channels = new OrderedDictionary<string, ChannelType>(channels.Select(c => KeyValuePair.Create(c, pass.UsualType))),
        };
    }
}
