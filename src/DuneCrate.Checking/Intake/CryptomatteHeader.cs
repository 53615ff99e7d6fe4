using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Exr;
using DuneCrate.Imaging.Cryptomatte;

namespace DuneCrate.Checking.Intake;

/// <summary>What a header says of one Cryptomatte. Source: Cryptomatte specification 1.2, metadata.</summary>
/// <param name="Name">Name of its layer: the channels are called so, with a rank.</param>
/// <param name="Hash">Name of the hash, or null.</param>
/// <param name="Conversion">How hashes become floats, or null.</param>
/// <param name="Names">Names in the manifest.</param>
/// <param name="ManifestProblem">Why the manifest cannot be read, or null.</param>
/// <param name="WrongNames">Names whose hash is not the id beside them, at most eight.</param>
public sealed record CryptomatteHeader(
    string Name,
    string? Hash,
    string? Conversion,
    int Names,
    [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string? ManifestProblem,
    ImmutableArray<string> WrongNames
)
{
    private const int MostWrong = 8;
    private const string Prefix = "cryptomatte/";

    /// <summary>Whether an attribute holds names and ids.</summary>
    public static bool IsManifest(string attribute) =>
        attribute.StartsWith(Prefix, StringComparison.Ordinal) && attribute.EndsWith("/manifest", StringComparison.Ordinal);

    /// <summary>Every Cryptomatte of a part.</summary>
    public static ImmutableArray<CryptomatteHeader> Parse(ExrPart part) =>
        [
            .. part
                .Attributes.Where(a =>
                    a.Name.StartsWith(Prefix, StringComparison.Ordinal) && a.Name.EndsWith("/name", StringComparison.Ordinal)
                )
                .Select(a => Read(part, a.Name[..^"name".Length], a.AsText() ?? "")),
        ];

    private static CryptomatteHeader Read(ExrPart part, string key, string name)
    {
        string? Text(string field) => part.Find(key + field)?.AsText();
        var header = new CryptomatteHeader(name, Text("hash"), Text("conversion"), 0, null, []);
        if (Text("manifest") is not { } manifest)
        {
            return header with { ManifestProblem = Text("manif_file") is null ? "is missing" : null };
        }

        try
        {
            using JsonDocument document = JsonDocument.Parse(manifest);
            var entries = document.RootElement.EnumerateObject().ToArray();
            string[] wrong = [.. entries.Where(e => !IsRight(e)).Select(e => e.Name).Take(MostWrong)];
            return header with { Names = entries.Length, WrongNames = [.. wrong] };
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            return header with { ManifestProblem = "does not parse" };
        }
    }

    private static bool IsRight(JsonProperty entry) =>
        entry.Value.ValueKind == JsonValueKind.String
        && uint.TryParse(entry.Value.GetString(), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out uint id)
        && id == BitConverter.SingleToUInt32Bits(CryptomatteHash.ToFloat(CryptomatteHash.OfName(entry.Name)));
}
