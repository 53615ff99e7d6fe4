using System.Security.Cryptography;
using System.Text;

namespace DuneCrate.Crates.Signing;

/// <summary>
/// The signature of a crate: ECDSA on P-256 over SHA-256 of crate.json, in DER, as <c>openssl dgst -sha256 -verify</c> takes it. crate.json
/// holds the digests of everything else. Source: FIPS 186-5; RFC 3279, section 2.2.3.
/// </summary>
public static class CrateSignature
{
    /// <summary>Name of the signature's file.</summary>
    public const string FileName = "crate.json.sig";

    /// <summary>Name of the file with the public key that the crate says it is signed with.</summary>
    public const string KeyFileName = "signer.pem";

    /// <summary>Bytes that either file may have.</summary>
    public const int MostBytes = 64 << 10;

    /// <summary>A new key.</summary>
    public static ECDsa NewKey() => ECDsa.Create(ECCurve.NamedCurves.nistP256);

    /// <summary>Reads a key, private or public, from PEM text.</summary>
    /// <exception cref="FormatException">The text holds no such key.</exception>
    public static ECDsa Read(string pem)
    {
        var key = ECDsa.Create();
        try
        {
            key.ImportFromPem(pem);
            return key.KeySize == 256 ? key : throw new FormatException("The key is none on the curve P-256.");
        }
        catch (Exception e) when (e is ArgumentException or CryptographicException)
        {
            key.Dispose();
            throw new FormatException("The file holds no ECDSA key in PEM form.", e);
        }
    }

    /// <summary>Signs a manifest.</summary>
    public static byte[] Sign(ECDsa key, string manifest) =>
        key.SignData(Encoding.UTF8.GetBytes(manifest), HashAlgorithmName.SHA256, DSASignatureFormat.Rfc3279DerSequence);

    /// <summary>Whether a signature is that of a manifest by a key.</summary>
    public static bool IsOf(ECDsa key, string manifest, byte[] signature) =>
        key.VerifyData(Encoding.UTF8.GetBytes(manifest), signature, HashAlgorithmName.SHA256, DSASignatureFormat.Rfc3279DerSequence);

    /// <summary>What a key is known by: SHA-256 of its public half (SubjectPublicKeyInfo), lower-case hexadecimal digits.</summary>
    public static string Fingerprint(ECDsa key) => Convert.ToHexStringLower(SHA256.HashData(key.ExportSubjectPublicKeyInfo()));
}
