namespace DuneCrate.Imaging.Cryptomatte;

/// <summary>In which channels the ranks of a Cryptomatte lie. Source: Cryptomatte specification 1.2.</summary>
public static class CryptomatteRanks
{
    /// <summary>
    /// Channel indices in the order id, coverage, id, coverage …, from names such as CryptoObject00.R; the picture for people
    /// (name without number) is left out.
    /// </summary>
    public static int[] Order(IEnumerable<(string Name, int Channel)> channels)
    {
        const string Letters = "RGBA";
        (string Layer, char Last, int Channel)[] ranked =
        [
            .. channels
                .Where(c =>
                    c.Name.Length > 4
                    && c.Name[^2] == '.'
                    && Letters.Contains(char.ToUpperInvariant(c.Name[^1]))
                    && char.IsAsciiDigit(c.Name[^3])
                )
                .Select(c => (c.Name[..^2], char.ToUpperInvariant(c.Name[^1]), c.Channel)),
        ];
        int[] all = [.. ranked.OrderBy(c => c.Layer, StringComparer.Ordinal).ThenBy(c => Letters.IndexOf(c.Last)).Select(c => c.Channel)];
        return all[..(all.Length / 2 * 2)];
    }
}
