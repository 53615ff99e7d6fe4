using System.Security.Cryptography;
using System.Text;

namespace DuneCrate.Web.Access;

/// <summary>
/// The code that the first account is made with: printed on the terminal, good once, gone with the process. After a few wrong tries
/// there is another one, which is printed too.
/// </summary>
public sealed class FirstCode
{
    private const string Letters = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
    private const int Length = 12,
        Group = 4,
        MostTries = 10;

    private readonly Lock _turn = new();
    private string _code = New();
    private int _tries;

    /// <summary>The code as it is printed: in groups.</summary>
    public string Code
    {
        get
        {
            lock (_turn)
            {
                return string.Join('-', _code.Chunk(Group).Select(c => new string(c)));
            }
        }
    }

    /// <summary>Whether somebody gave the right code; groups and letter case do not matter.</summary>
    /// <param name="given">What they gave.</param>
    /// <param name="isNew">Whether the code was changed, so that it must be printed again.</param>
    public bool Is(string? given, out bool isNew)
    {
        byte[] asked = Encoding.ASCII.GetBytes(new string([.. (given ?? "").ToUpperInvariant().Where(char.IsAsciiLetterOrDigit)]));
        lock (_turn)
        {
            bool isRight = CryptographicOperations.FixedTimeEquals(asked, Encoding.ASCII.GetBytes(_code));
            isNew = !isRight && ++_tries % MostTries == 0;
            _code = isNew ? New() : _code;
            return isRight;
        }
    }

    private static string New() => RandomNumberGenerator.GetString(Letters, Length);
}
