using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json;

namespace DuneCrate.Foundation.History;

/// <summary>One thing that somebody did. Each entry holds the hash of the one before, so that nothing can be changed or taken out
/// unseen.</summary>
/// <param name="Number">Place in the history, from 1.</param>
/// <param name="At">When, UTC, in whole milliseconds.</param>
/// <param name="Who">Name of the person, or of what acted for them.</param>
/// <param name="Kind">What sort of thing; one of <see cref="HistoryKinds"/>.</param>
/// <param name="Show">Code of the show, or null.</param>
/// <param name="Shot">Code of the shot, or null.</param>
/// <param name="Subject">What it was done to, in words.</param>
/// <param name="Before">What was before, or null.</param>
/// <param name="After">What was after, or null.</param>
/// <param name="Previous">Hash of the entry before; <see cref="HistoryChain.First"/> for the first.</param>
/// <param name="Hash">SHA-256 of all of the above, lower-case hexadecimal digits.</param>
public sealed record HistoryEntry(
    long Number,
    DateTime At,
    string Who,
    string Kind,
    string? Show,
    string? Shot,
    string Subject,
    string? Before,
    string? After,
    string Previous,
    string Hash
)
{
    /// <summary>The hash that the entry must have: SHA-256 of its other fields as a JSON array in UTF-8.</summary>
    public string ComputeHash()
    {
        using var text = new MemoryStream();
        using (var writer = new Utf8JsonWriter(text))
        {
            writer.WriteStartArray();
            writer.WriteNumberValue(Number);
            writer.WriteStringValue(At.ToString("yyyy-MM-dd'T'HH:mm:ss.fff'Z'", CultureInfo.InvariantCulture));
            foreach (string? field in (string?[])[Who, Kind, Show, Shot, Subject, Before, After, Previous])
            {
                writer.WriteStringValue(field);
            }

            writer.WriteEndArray();
        }

        return Convert.ToHexStringLower(SHA256.HashData(text.GetBuffer().AsSpan(0, (int)text.Length)));
    }
}
