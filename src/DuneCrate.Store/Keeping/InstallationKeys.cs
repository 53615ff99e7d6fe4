using System.Security.Cryptography;
using DuneCrate.Crates.Signing;

namespace DuneCrate.Store.Keeping;

/// <summary>
/// The keys that an installation signs its crates with: one in use, and the public halves of those that were used before. They lie in the
/// data folder; the private half is readable by its owner only.
/// </summary>
public sealed class InstallationKeys
{
    /// <summary>Name of the private key's file below the folder of keys.</summary>
    public const string PrivateFile = "crate-key.pem";

    private const string Former = "former";
    private const UnixFileMode OwnerOnly = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    private readonly string _folder;
    private readonly Lock _turn = new();

    private InstallationKeys(string folder) => _folder = folder;

    /// <summary>The keys of a data folder; the first is made when there is none.</summary>
    /// <exception cref="FormatException">The key is damaged.</exception>
    public static InstallationKeys Take(DataFolder data)
    {
        var keys = new InstallationKeys(data.Private(DataFolder.Keys).FullName);
        if (!File.Exists(keys.At(PrivateFile)))
        {
            using ECDsa made = CrateSignature.NewKey();
            keys.Write(made);
        }

        using ECDsa _ = keys.Current();
        return keys;
    }

    /// <summary>The key in use, private half; whoever asks disposes of it.</summary>
    /// <exception cref="FormatException">It is damaged.</exception>
    public ECDsa Current() => CrateSignature.Read(File.ReadAllText(At(PrivateFile)));

    /// <summary>The public key in use, as PEM text.</summary>
    public string PublicPem
    {
        get
        {
            using ECDsa key = Current();
            return key.ExportSubjectPublicKeyInfoPem() + "\n";
        }
    }

    /// <summary>Public halves of all keys that this installation has ever signed with; whoever asks disposes of them.</summary>
    public IReadOnlyList<ECDsa> Known() => [.. FormerFiles().Select(File.ReadAllText).Prepend(PublicPem).Select(CrateSignature.Read)];

    /// <summary>Makes a new key; crates that were signed with the old one stay known.</summary>
    /// <returns>Fingerprint of the new key.</returns>
    public string Change()
    {
        lock (_turn)
        {
            using (ECDsa old = Current())
            {
                Directory.CreateDirectory(At(Former));
                Put(Path.Combine(At(Former), CrateSignature.Fingerprint(old) + ".pem"), old.ExportSubjectPublicKeyInfoPem());
            }

            using ECDsa made = CrateSignature.NewKey();
            Write(made);
            return CrateSignature.Fingerprint(made);
        }
    }

    private IEnumerable<string> FormerFiles() =>
        Directory.Exists(At(Former)) ? Directory.EnumerateFiles(At(Former), "*.pem").Order(StringComparer.Ordinal) : [];

    private void Write(ECDsa key) => Put(At(PrivateFile), key.ExportPkcs8PrivateKeyPem());

    /// <summary>Written beside its place and renamed: a kill leaves the old file or the new one.</summary>
    private static void Put(string file, string text)
    {
        string work = file + ".partial";
        File.Delete(work);
        using (
            FileStream made = new(
                work,
                new FileStreamOptions
                {
                    Mode = FileMode.CreateNew,
                    Access = FileAccess.Write,
                    UnixCreateMode = OwnerOnly,
                }
            )
        )
        {
            made.Write(System.Text.Encoding.UTF8.GetBytes(text + "\n"));
            made.Flush(flushToDisk: true);
        }

        File.Move(work, file, overwrite: true);
    }

    private string At(string name) => Path.Combine(_folder, name);
}
