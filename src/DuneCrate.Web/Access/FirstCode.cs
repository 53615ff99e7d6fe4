using System.Security.Cryptography;
using System.Text;

namespace DuneCrate.Web.Access;

/// <summary>
/// The code that the first account is made with: printed on the terminal, gone with the process. Sixty random bits, whose guessing
/// <see cref="GuessPatience"/> slows down.
/// </summary>
public sealed class FirstCode
{
    private const string Letters = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
    private const int Length = 12,
        Group = 4;

    private readonly string _code = RandomNumberGenerator.GetString(Letters, Length);

    /// <summary>The code as it is printed: in groups.</summary>
    public string Code => string.Join('-', _code.Chunk(Group).Select(c => new string(c)));

    /// <summary>Whether somebody gave the right code; groups and letter case do not matter.</summary>
    /// <param name="given">What they gave.</param>
    public bool Is(string? given) =>
        CryptographicOperations.FixedTimeEquals(
            Encoding.ASCII.GetBytes(new string([.. (given ?? "").ToUpperInvariant().Where(char.IsAsciiLetterOrDigit)])),
            Encoding.ASCII.GetBytes(_code)
        );
}
