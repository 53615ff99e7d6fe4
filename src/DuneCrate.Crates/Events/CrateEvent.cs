using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Crates.Events;

/// <summary>One line of a crate's history.</summary>
/// <param name="Number">Its number, from 1.</param>
/// <param name="At">When, UTC.</param>
/// <param name="By">Who did it.</param>
/// <param name="Did">What was done: see <see cref="CrateEventKinds"/>.</param>
/// <param name="What">More of it, in words.</param>
/// <param name="Before">SHA-256 of the line before it as it stands, in hexadecimal digits; 64 zeros for the first.</param>
public sealed record CrateEvent(int Number, DateTime At, string By, string Did, string What, string Before)
{
    /// <summary>The line, without its end.</summary>
    [JsonIgnore]
    public string Line => JsonSerializer.Serialize(this, CrateJson.InLines.Of<CrateEvent>());

    /// <summary>SHA-256 of a line.</summary>
    public static string HashOf(string line) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(line)));
}
