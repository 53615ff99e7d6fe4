using DuneCrate.Crates.Deltas;

namespace DuneCrate.Crates.Tests.Converting;

/// <summary>Deltas onto older crates, and what both are joined to; held against sha256sum and diff.</summary>
public class DeltaTests
{
    [Fact]
    public void A_delta_holds_what_differs_and_joins_to_the_whole()
    {
        using var next = new DriftShot();
        string into = next["crates"],
            recipe = """{ "files": "per-pass", "compression": "zip" }""",
            older = next.Seal(recipe, into);
        Tool.Oiio(next.Rendered(47), "--mulc", "1,1,1,1,1,1,1,0.5,0.5,0.5", "-d", "float", "-o", next.Rendered(47));
        next.CheckAgain();
        string whole = next.Seal(recipe, next["whole"]),
            delta = next.Seal(recipe, into, OntoBase.Read(Disk.Folder(older)));
        Assert.Equal("KP050_crate_v002", Path.GetFileName(delta));
        // oiiotool wrote the header anew, so all three that are made of the file differ, and no other.
        Assert.Equal(
            ["drift.0047.exr", "drift_direct_diffuse.0047.exr", "drift_specular.0047.exr"],
            Directory.GetFiles(delta, "*.exr", SearchOption.AllDirectories).Select(f => Path.GetFileName(f)).Order(StringComparer.Ordinal)
        );
        Assert.Equal("", Tool.RunAny("sh", "-c", $"cd {delta} && sha256sum -c --quiet SHA256SUMS"));
        Assert.Equal("", Tool.RunAny("sh", "-c", $"cd {older} && sha256sum -c --quiet {delta}/carried.sha256"));
        CrateProof proof = CrateVerifier.Verify(Disk.Folder(delta), null, default);
        Assert.Equal((true, 13), (proof.IsWhole, proof.Carried));
        Assert.Equal(3, proof.Manifest.Onto!.Changed.Length);
        OntoChange change = proof.Manifest.Onto.Changed.Last();
        Assert.Equal(("specular", "47", false), (change.Pass, change.Frames.ToString(), change.IsNew));

        string joined = CrateJoin.Join(Disk.Folder(older), Disk.Folder(delta), Disk.Folder(next["joined"]), null, default).Folder.FullPath;
        Assert.Equal("", Tool.RunAny("sh", "-c", $"cd {joined} && sha256sum -c --quiet SHA256SUMS"));
        Assert.True(CrateVerifier.Verify(Disk.Folder(joined), null, default).IsWhole);
        Assert.Equal("", Tool.RunAny("sh", "-c", $"diff -r {whole}/drift {joined}/drift"));
        // The crate.json of the delta is the joined crate's, so that a signature stays good.
        Assert.Equal(File.ReadAllText(Path.Combine(delta, "crate.json")), File.ReadAllText(Path.Combine(joined, "crate.json")));

        string Refused(string a, string b) =>
            Assert
                .Throws<CrateRefusedException>(() =>
                    CrateJoin.Join(Disk.Folder(a), Disk.Folder(b), Disk.Folder(next["again"]), null, default)
                )
                .Message;
        Assert.Contains("is not the one that the delta was made onto", Refused(whole, delta));
        Assert.Contains("is no delta", Refused(older, whole));
        Assert.Contains("is a delta itself", Assert.Throws<CrateRefusedException>(() => OntoBase.Read(Disk.Folder(delta))).Message);
        string damaged = Path.Combine(older, "drift/drift/drift.0046.exr");
        File.SetUnixFileMode(damaged, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        File.WriteAllBytes(damaged, [1, 2, 3]);
        Assert.Contains("drift.0046.exr of the older crate is not what was sealed", Refused(older, delta));
        Assert.False(Directory.Exists(next["again"]) && Directory.EnumerateFileSystemEntries(next["again"]).Any());
    }

    [Fact]
    public void A_delta_is_not_made_onto_a_crate_whose_checksums_were_changed()
    {
        using var next = new DriftShot();
        string older = next.Seal("{}", next["a"]),
            list = Path.Combine(older, "SHA256SUMS");
        File.SetUnixFileMode(list, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        File.WriteAllLines(
            list,
            File.ReadAllLines(list).Select(l => l.EndsWith(".0047.exr", StringComparison.Ordinal) ? (l[0] == '0' ? '1' : '0') + l[1..] : l)
        );
        Assert.Contains(
            "was changed: its checksums are not those",
            Assert.Throws<CrateRefusedException>(() => OntoBase.Read(Disk.Folder(older))).Message
        );
    }

    [Fact]
    public void A_delta_of_which_a_line_was_taken_away_is_not_whole()
    {
        using var next = new DriftShot();
        string older = next.Seal("{}", next["a"]),
            delta = next.Seal("{}", next["b"], OntoBase.Read(Disk.Folder(older))),
            carried = Path.Combine(delta, "carried.sha256");
        File.SetUnixFileMode(carried, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        File.WriteAllLines(carried, File.ReadAllLines(carried).Skip(1));
        Assert.False(CrateVerifier.Verify(Disk.Folder(delta), null, default).IsWhole);
    }
}
