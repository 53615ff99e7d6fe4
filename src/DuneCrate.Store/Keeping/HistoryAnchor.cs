using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store.Keeping;

/// <summary>
/// The newest entry of the history at a moment, signed with the installation's key: who cuts the end of the history off would have to forge
/// it. Signed at each start, backup and seal; held against the history by the doctor.
/// </summary>
/// <param name="Schema">Always <see cref="SchemaName"/>.</param>
/// <param name="Number">Number of the entry; 0 where there is none yet.</param>
/// <param name="Hash">Its hash.</param>
/// <param name="At">When it was signed, UTC.</param>
/// <param name="Signature">ECDSA over P-256 with SHA-256, of schema, number, hash and time, a line each.</param>
public sealed record HistoryAnchor(string Schema, long Number, string Hash, DateTime At, string Signature)
{
    /// <summary>Name of its file in the data folder.</summary>
    public const string FileName = "history-head.json";

    private const string SchemaName = "dune-crate.history-head/1";
    private const int MostBytes = 1 << 16;

    /// <summary>Signs the newest entry of a database.</summary>
    internal static HistoryAnchor Sign(DuneCrateContext context, ECDsa key, DateTime at)
    {
        HistoryRow? last = context.History.AsNoTracking().OrderByDescending(h => h.Number).FirstOrDefault();
        var anchor = new HistoryAnchor(SchemaName, last?.Number ?? 0, last?.Hash ?? "", at, "");
        return anchor with { Signature = Convert.ToBase64String(key.SignData(anchor.Signed(), HashAlgorithmName.SHA256)) };
    }

    /// <summary>Signs the newest entry of the application's own database and keeps it in the data folder.</summary>
    public static void Keep(DuneCrateContext context, DataFolder data, InstallationKeys keys, DateTime at)
    {
        using ECDsa key = keys.Current();
        StorageRoot.At(data.Path).Top.At(FileName).ReplaceText(Sign(context, key, at).Write());
    }

    /// <summary>Its document.</summary>
    public string Write() => JsonSerializer.Serialize(this, AnyJson.Options) + "\n";

    /// <summary>What is wrong with the history of a database as the anchor of its data folder has it, in words; null when it
    /// holds.</summary>
    /// <param name="context">The database.</param>
    /// <param name="file">The anchor's file.</param>
    /// <param name="known">Public keys of the installation.</param>
    internal static string? Problem(DuneCrateContext context, string file, IReadOnlyList<ECDsa> known)
    {
        HistoryAnchor anchor;
        try
        {
            anchor = AnyJson.Read<HistoryAnchor>(new FileInfo(file).Length > MostBytes ? "" : File.ReadAllText(file));
            byte[] signature = Convert.FromBase64String(anchor.Signature);
            if (!known.Any(k => k.VerifyData(anchor.Signed(), signature, HashAlgorithmName.SHA256)))
            {
                return $"{file} is not signed by this installation";
            }
        }
        catch (Exception e) when (e is JsonException or FormatException or CryptographicException)
        {
            return $"{file} cannot be read";
        }

        string at = anchor.At.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
        string? found = context.History.Where(h => h.Number == anchor.Number).Select(h => h.Hash).FirstOrDefault();
        return anchor.Number == 0 || found == anchor.Hash ? null
            : found is null ? $"it ended with entry {anchor.Number} at {at} UTC, and that is gone"
            : $"entry {anchor.Number} is another than it was at {at} UTC";
    }

    private byte[] Signed() =>
        Encoding.UTF8.GetBytes(
            string.Join(
                '\n',
                Schema,
                Number.ToString(CultureInfo.InvariantCulture),
                Hash,
                At.ToUniversalTime().ToString("O", CultureInfo.InvariantCulture)
            )
        );
}
