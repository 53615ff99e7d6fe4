using System.Collections.Frozen;

namespace DuneCrate.Web.Access;

/// <summary>
/// The words that the passwords of published breaches are made of most often (from memory), so that long ones made of nothing else are
/// refused as well: "Password12345678", "qwertyqwertyqwerty".
/// </summary>
internal static class CommonPasswords
{
    private const int LongestRest = 3;

    private static readonly string[] Rows =
    [
        "abcdefghijklmnopqrstuvwxyz",
        "01234567890123456789",
        "qwertyuiopasdfghjklzxcvbnm",
        "qwertzuiopasdfghjklyxcvbnm",
        "azertyuiopqsdfghjklmwxcvbn",
    ];

    private static readonly FrozenSet<string> Words = (
        "password passwort motdepasse contrasena parola passw passwd pass word admin administrator root user guest login welcome letmein "
        + "access secret master default changeme temp test testing demo hello hallo bonjour hola iloveyou ilove love you loveyou lovely "
        + "qwerty qwertz azerty qwertyuiop asdf asdfgh asdfghjkl zxcvbn zxcvbnm qaz wsx qazwsx edc qwe asd zxc abc abcd abcde abcdef "
        + "monkey dragon football baseball basketball soccer hockey princess sunshine "
        + "shadow flower butterfly angel chocolate cookie banana cheese pepper ginger summer winter spring autumn monday friday "
        + "january february march april june july august september october november december michael jennifer jordan daniel charlie "
        + "thomas jessica ashley nicole andrew joshua robert george hunter killer "
        + "computer internet apple server database system network secure security "
        + "trustno blink whatever freedom nothing forever family friends baby babygirl money lucky happy smile "
        + "correct horse battery staple correcthorsebatterystaple render pipeline show studio"
    )
        .Split(' ')
        .Distinct()
        .ToFrozenSet(StringComparer.Ordinal);

    /// <summary>Lower case, with the usual digits and signs for letters put back, and nothing but letters and digits.</summary>
    public static string Plain(string text) =>
        new([
            .. text.ToLowerInvariant()
                .Select(c =>
                    c switch
                    {
                        '@' => 'a',
                        '$' => 's',
                        '!' => 'i',
                        _ => c,
                    }
                )
                .Where(char.IsLetterOrDigit),
        ]);

    /// <summary>Whether a password is a piece of the alphabet, of the digits or of a keyboard's rows, forwards or backwards.</summary>
    public static bool IsRun(string password)
    {
        string plain = Plain(password),
            back = new([.. plain.Reverse()]);
        return plain.Length > 0
            && Rows.Any(r => Repeated(r).Contains(plain, StringComparison.Ordinal) || Repeated(r).Contains(back, StringComparison.Ordinal));
    }

    /// <summary>
    /// Whether nothing but common or given words and a few digits are in a password, or nothing but one of the breached ones.
    /// </summary>
    public static bool IsMadeOf(string plain, IEnumerable<string> own)
    {
        string[] words = [.. Words.Concat(own).OrderByDescending(w => w.Length)];
        return IsMade(plain) || IsMade(Unmasked(plain)) || BreachedPasswords.IsOne(plain) || BreachedPasswords.IsOne(Unmasked(plain));

        bool IsMade(string text)
        {
            // least[i]: fewest characters of the first i that belong to no word.
            int[] least = new int[text.Length + 1];
            for (int i = 1; i <= text.Length; i++)
            {
                least[i] = least[i - 1] + 1;
                foreach (string word in words)
                {
                    if (word.Length <= i && string.CompareOrdinal(text, i - word.Length, word, 0, word.Length) == 0)
                    {
                        least[i] = Math.Min(least[i], least[i - word.Length]);
                    }
                }
            }

            return least[^1] <= LongestRest || text.Where(char.IsLetter).Any() && least[^1] <= text.Count(char.IsDigit);
        }
    }

    private static string Unmasked(string plain) =>
        plain.Replace('0', 'o').Replace('1', 'l').Replace('3', 'e').Replace('4', 'a').Replace('5', 's').Replace('7', 't');

    private static string Repeated(string row) => row + row + row;
}
