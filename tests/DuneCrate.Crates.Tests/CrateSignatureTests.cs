using System.Security.Cryptography;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates.Signing;

namespace DuneCrate.Crates.Tests;

/// <summary>Signatures of crates, held against <c>openssl</c>. Source: FIPS 186-5 (ECDSA); RFC 5480 and RFC 5915 (keys in PEM).</summary>
public sealed class CrateSignatureTests(TamperTests.CheckedShot shot) : IClassFixture<TamperTests.CheckedShot>, IDisposable
{
    private readonly TempFolder _to = new();

    private string Seal(ECDsa? key, string by = "Mara Quill")
    {
        (CrateContents contents, CheckReport report) = shot.Read();
        return CrateBuilder
            .Seal(contents, report, Disk.Folder(_to.Path), Guid.NewGuid(), null, default, new CrateSigner(by, key))
            .Folder.FullPath;
    }

    private static IEnumerable<string> Problems(string crate, params ECDsa[] keys) =>
        CrateVerifier.Verify(Disk.Folder(crate), null, default, keys).Problems;

    /// <summary>Writes over a file that is read-only, as its owner can.</summary>
    private static void Change(string file, Func<string, string> change)
    {
        File.SetUnixFileMode(file, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        File.WriteAllText(file, change(File.ReadAllText(file)));
    }

    [Fact]
    public void Openssl_verifies_what_is_signed_and_makes_keys_that_sign()
    {
        Tool.Run("openssl", "ecparam", "-name", "prime256v1", "-genkey", "-noout", "-out", _to["key.pem"]);
        Tool.Run("openssl", "ec", "-in", _to["key.pem"], "-pubout", "-out", _to["key.pub.pem"]);
        using ECDsa key = CrateSignature.Read(File.ReadAllText(_to["key.pem"]));
        string crate = Seal(key),
            manifest = Path.Combine(crate, CrateManifest.FileName),
            signature = Path.Combine(crate, CrateSignature.FileName);
        Assert.Contains(
            "Verified OK",
            Tool.Run("openssl", "dgst", "-sha256", "-verify", _to["key.pub.pem"], "-signature", signature, manifest)
        );
        Assert.Equal(
            File.ReadAllText(_to["key.pub.pem"]).ReplaceLineEndings("\n").Trim(),
            File.ReadAllText(Path.Combine(crate, CrateSignature.KeyFileName)).ReplaceLineEndings("\n").Trim()
        );
        using ECDsa known = CrateSignature.Read(File.ReadAllText(_to["key.pub.pem"]));
        Assert.Empty(Problems(crate, known));
        CrateManifest read = CrateManifest.Read(File.ReadAllText(manifest));
        Assert.Equal(("Mara Quill", CrateSignature.Fingerprint(known)), (read.SealedBy, read.SignedWith));
        Assert.Contains("by Mara Quill", File.ReadAllText(Path.Combine(crate, PackingSlip.FileName)));

        // The fingerprint is that of the key as openssl writes it.
        Tool.Run("openssl", "pkey", "-pubin", "-in", _to["key.pub.pem"], "-outform", "DER", "-out", _to["key.der"]);
        Assert.StartsWith(CrateSignature.Fingerprint(known), Tool.Run("sha256sum", _to["key.der"]));
    }

    [Fact]
    public void Openssls_signature_is_taken()
    {
        using ECDsa key = CrateSignature.NewKey();
        File.WriteAllText(_to["key.pem"], key.ExportPkcs8PrivateKeyPem());
        File.WriteAllText(_to["text"], "what is signed");
        Tool.Run("openssl", "dgst", "-sha256", "-sign", _to["key.pem"], "-out", _to["sig"], _to["text"]);
        Assert.True(CrateSignature.IsOf(key, "what is signed", File.ReadAllBytes(_to["sig"])));
        Assert.False(CrateSignature.IsOf(key, "what is signed.", File.ReadAllBytes(_to["sig"])));
    }

    [Fact]
    public void Another_key_and_a_crate_without_signature_are_told()
    {
        using ECDsa own = CrateSignature.NewKey(),
            other = CrateSignature.NewKey();
        Assert.Contains(
            Problems(Seal(own), other),
            p => p.StartsWith("it is signed with a key that is not known here", StringComparison.Ordinal)
        );
        Assert.Empty(Problems(Seal(own), other, own));
        string unsigned = Seal(null);
        Assert.Empty(Problems(unsigned));
        Assert.Equal(["it is not signed"], Problems(unsigned, own));
    }

    /// <summary>Whoever changes the slip or the manifest and mends every checksum cannot mend the signature.</summary>
    [Theory]
    [InlineData(PackingSlip.FileName)]
    [InlineData(CrateManifest.FileName)]
    public void A_change_with_all_checksums_mended_is_seen(string name)
    {
        using ECDsa key = CrateSignature.NewKey();
        string crate = Seal(key);
        string Sum(string file) => Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(Path.Combine(crate, file))));
        string[] before = [Sum(PackingSlip.FileName), Sum(CrateManifest.FileName)];
        Change(Path.Combine(crate, name), t => t.Replace("Mara Quill", "Ben Quill", StringComparison.Ordinal));
        string slip = Sum(PackingSlip.FileName);
        Change(Path.Combine(crate, CrateManifest.FileName), t => t.Replace(before[0], slip, StringComparison.Ordinal));
        string manifest = Sum(CrateManifest.FileName);
        Change(
            Path.Combine(crate, ChecksumList.FileName),
            t => t.Replace(before[0], slip, StringComparison.Ordinal).Replace(before[1], manifest, StringComparison.Ordinal)
        );
        Tool.Run("sh", "-c", $"cd '{crate}' && sha256sum -c --quiet {ChecksumList.FileName}");
        Assert.Equal([$"{CrateManifest.FileName} is not what was signed"], Problems(crate));
    }

    [Fact]
    public void Files_of_a_sealed_crate_are_read_only()
    {
        foreach (string file in Directory.EnumerateFiles(Seal(null), "*", SearchOption.AllDirectories))
        {
            Assert.Equal(
                UnixFileMode.None,
                File.GetUnixFileMode(file) & (UnixFileMode.UserWrite | UnixFileMode.GroupWrite | UnixFileMode.OtherWrite)
            );
        }
    }

    [Theory]
    [InlineData("")]
    [InlineData("-----BEGIN PUBLIC KEY-----\nAAAA\n-----END PUBLIC KEY-----")]
    public void Text_that_is_no_key_is_refused_in_words(string text) =>
        Assert.EndsWith(".", Assert.Throws<FormatException>(() => CrateSignature.Read(text)).Message);

    public void Dispose() => _to.Dispose();
}
