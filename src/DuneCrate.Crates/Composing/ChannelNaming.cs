using DuneCrate.Foundation.Passes;

namespace DuneCrate.Crates.Composing;

/// <summary>What the channels of a pass are called in files that are made.</summary>
internal static class ChannelNaming
{
    /// <summary>
    /// In a file of their own: by their last part, <c>R G B A</c> or <c>Z</c>. Where that does not tell them apart, as with the ranks of a
    /// Cryptomatte, they keep their names.
    /// </summary>
    public static string[] Alone(IReadOnlyList<string> stored, bool isCryptomatte)
    {
        string[] last = [.. stored.Select(ChannelNames.LastOf)];
        return isCryptomatte || last.Distinct().Count() < last.Length ? [.. stored] : last;
    }

    /// <summary>
    /// Together with other passes: by the names that the plan gives them. A name without a layer that is not the beauty's, and that
    /// another pass of the file has too, gets its pass before it.
    /// </summary>
    public static string Together(string pass, string planned, Func<string, bool> isTaken) =>
        pass == PassKeys.Beauty || planned.Contains('.', StringComparison.Ordinal) || !isTaken(planned) ? planned : $"{pass}.{planned}";
}
