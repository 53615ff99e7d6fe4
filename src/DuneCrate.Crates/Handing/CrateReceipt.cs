using System.Text.Json;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Crates.Handing;

/// <summary>
/// The document <c>dune-crate.receipt/1</c>: what of a crate has arrived at an outside site, by the sums that it took there.
/// </summary>
/// <param name="Crate">Name of the crate.</param>
/// <param name="Site">Where it has arrived.</param>
/// <param name="At">When all of it was there, UTC.</param>
/// <param name="By">Who sent it.</param>
/// <param name="Sums">SHA-256 of its list of checksums, which names every other file.</param>
/// <param name="Files">Files that are there, all of them with their sums.</param>
/// <param name="Sent">Files that were sent this time; the others were there already.</param>
/// <param name="Again">Transfers that had to be tried again.</param>
public sealed record CrateReceipt(string Crate, string Site, DateTime At, string By, string Sums, int Files, int Sent, int Again)
{
    /// <summary>Name of the document's schema.</summary>
    public const string SchemaName = "dune-crate.receipt/1";

    /// <summary>The schema.</summary>
    [System.Text.Json.Serialization.JsonPropertyOrder(-1)]
    public string Schema { get; init; } = SchemaName;

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, CrateJson.Ahead.Of<CrateReceipt>()) + "\n";
}
