using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Handing;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Crates;

/// <summary>How manifests, recipes, receipts and what is noted of crates are written and read, worked out when the code is built.</summary>
[JsonSerializable(typeof(CrateManifest))]
[JsonSerializable(typeof(CrateRecipe))]
[JsonSerializable(typeof(CrateReceipt))]
[JsonSerializable(typeof(CrateEvent))]
[JsonSerializable(typeof(CrateJournal.Entry))]
internal sealed partial class CrateJson : JsonSerializerContext
{
    /// <summary>Options for these documents.</summary>
    public static readonly JsonSerializerOptions Ahead = DocumentJson.Ahead(new CrateJson());

    /// <summary>The same without line breaks, for records of one line.</summary>
    public static readonly JsonSerializerOptions InLines = DocumentJson.Ahead(new CrateJson(), DocumentJson.CompactForm);
}
