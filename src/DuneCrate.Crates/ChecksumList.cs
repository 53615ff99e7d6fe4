using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates;

/// <summary>
/// The list of checksums of a crate, in the form that <c>sha256sum -c</c> takes. Source: GNU coreutils manual, md5sum invocation and sha2
/// utilities.
/// </summary>
public sealed class ChecksumList
{
    /// <summary>Name of the file.</summary>
    public const string FileName = "SHA256SUMS";

    /// <summary>
    /// Name of the file in a delta that lists what the older crate has, with paths as they are there.
    /// </summary>
    public const string CarriedFileName = "carried.sha256";

    /// <summary>Bytes that a list may have: some two million files.</summary>
    public const long MostBytes = 256L << 20;

    private const int HashLetters = 64;

    private readonly SortedDictionary<string, string> _sums = new(StringComparer.Ordinal);

    /// <summary>Checksums as lower-case hexadecimal digits, by path in the crate.</summary>
    public IReadOnlyDictionary<string, string> Sums => _sums;

    /// <summary>Adds a file.</summary>
    public void Add(string path, string sum) => _sums.Add(path, sum);

    /// <summary>This list and another, which has no path in common with it.</summary>
    public ChecksumList With(ChecksumList other)
    {
        var both = new ChecksumList();
        foreach ((string path, string sum) in _sums.Concat(other._sums))
        {
            both.Add(path, sum);
        }

        return both;
    }

    /// <summary>
    /// SHA-256 of the lines about what the crate carries, in lower-case hexadecimal digits: what the manifest holds the list to.
    /// </summary>
    public string Digest() => Digest(Text(_sums.Where(s => !IsAboutTheCrate(s.Key))));

    /// <summary>Whether a file is about the crate, and not what it carries.</summary>
    internal static bool IsAboutTheCrate(string path) =>
        path is CrateManifest.FileName or PackingSlip.FileName or CrateSignature.FileName or CrateSignature.KeyFileName or CarriedFileName;

    /// <summary>SHA-256 of a text in UTF-8, in lower-case hexadecimal digits.</summary>
    public static string Digest(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));

    /// <summary>The list's text.</summary>
    public string Write() => Text(_sums);

    /// <summary>Reads a list.</summary>
    /// <exception cref="FormatException">A line is no checksum of a file in the crate.</exception>
    public static ChecksumList Read(string text)
    {
        var list = new ChecksumList();
        foreach (string line in text.Split('\n', StringSplitOptions.RemoveEmptyEntries))
        {
            string path = line.Length > HashLetters + 2 ? line[(HashLetters + 2)..].TrimEnd('\r') : "";
            bool isSum =
                path.Length > 0
                && line[HashLetters] == ' '
                && line.AsSpan(0, HashLetters).ContainsAnyExcept("0123456789abcdefABCDEF") == false;
            if (
                !isSum
                || StoragePath.Problem(path) is not null
                || !list._sums.TryAdd(path, line[..HashLetters].ToLower(CultureInfo.InvariantCulture))
            )
            {
                throw new FormatException(
                    $"{FileName} has a line that is no checksum of a file in the crate: '{line[..Math.Min(line.Length, 80)]}'."
                );
            }
        }

        return list;
    }

    private static string Text(IEnumerable<KeyValuePair<string, string>> sums) => string.Concat(sums.Select(s => $"{s.Value}  {s.Key}\n"));
}
