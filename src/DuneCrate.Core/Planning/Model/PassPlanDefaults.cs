using System.Globalization;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Planning.Model;

/// <summary>How a pass is planned unless somebody says otherwise.</summary>
public static class PassPlanDefaults
{
    /// <summary>
    /// A pass with the catalogue's channels, named as OpenEXR has it (<c>R G B A</c> and <c>Z</c> at the root, <c>pass.R</c> in a layer), at
    /// the catalogue's least type; OpenEXR has no 8-bit samples, so those become half, and ids uint.
    /// </summary>
    /// <exception cref="ArgumentException">The catalogue holds no such pass.</exception>
    public static PassPlan Create(string key, AlphaMode alpha, PassCatalogue? catalogue = null)
    {
        PassDefinition pass =
            (catalogue ?? PassCatalogue.Shipped).Find(key)
            ?? throw new ArgumentException(PlanValidation.UnknownPass(key, catalogue ?? PassCatalogue.Shipped));
        string prefix = pass.Stem switch
        {
            "beauty" or "alpha" or "depth" => "",
            "cryptomatte" => "Crypto" + CultureInfo.InvariantCulture.TextInfo.ToTitleCase(key[(key.IndexOf('.') + 1)..]),
            _ => key + ".",
        };
        ChannelType type =
            pass.LeastType != ChannelType.UInt8 ? pass.LeastType
            : pass.Key == "object_id" ? ChannelType.UInt
            : ChannelType.Half;
        IEnumerable<string> channels =
            pass.Kind == PassKind.Combined && alpha == AlphaMode.None ? pass.Channels.Where(c => c != "A") : pass.Channels;
        return new PassPlan
        {
            Pass = key,
            Channels = new OrderedDictionary<string, ChannelType>(channels.Select(c => KeyValuePair.Create(prefix + c, type))),
        };
    }
}
