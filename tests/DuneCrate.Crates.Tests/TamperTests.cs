using System.Security.Cryptography;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;

namespace DuneCrate.Crates.Tests;

/// <summary>What is handed over is what was checked, and what is changed later is seen, however it was changed.</summary>
public sealed class TamperTests(TamperTests.CheckedShot shot) : IClassFixture<TamperTests.CheckedShot>, IDisposable
{
    private readonly TempFolder _to = new();

    [Fact]
    public void Garbage_of_the_same_size_and_time_is_not_sealed()
    {
        using var own = new CheckedShot();
        (CrateContents contents, CheckReport report) = own.Read();
        string file = own.Shot["sub/KP010_sub.1004.exr"];
        DateTime time = File.GetLastWriteTimeUtc(file);
        byte[] bytes = File.ReadAllBytes(file);
        RandomNumberGenerator.Fill(bytes.AsSpan(bytes.Length / 2));
        File.WriteAllBytes(file, bytes);
        File.SetLastWriteTimeUtc(file, time);
        Assert.Contains("its content has changed", Assert.Throws<CrateRefusedException>(() => Seal(contents, report)).Message);
        Assert.Empty(Directory.GetFileSystemEntries(_to.Path));
    }

    [Fact]
    public void Facts_without_content_are_never_sealed_on()
    {
        (IntakeResult intake, CheckReport report) = shot.Checked;
        IntakeResult without = intake with
        {
            Facts = intake.Facts.SetItem("sub/KP010_sub.1004.exr", intake.Facts["sub/KP010_sub.1004.exr"] with { Content = [] }),
        };
        Assert.Throws<CrateRefusedException>(() => Seal(Disk.Contents(shot.Shot.Plan, without, CrateLayouts.ByLayer), report));
    }

    [Fact]
    public void A_changed_file_with_a_changed_list_is_seen()
    {
        SealedCrate crate = Seal();
        string file = Path.Combine(crate.Folder.FullPath, "sub/sub/sub.1004.exr"),
            list = Path.Combine(crate.Folder.FullPath, ChecksumList.FileName);
        byte[] bytes = File.ReadAllBytes(file);
        string before = Convert.ToHexStringLower(SHA256.HashData(bytes));
        bytes[^1] ^= 1;
        File.WriteAllBytes(file, bytes);
        File.WriteAllText(
            list,
            File.ReadAllText(list).Replace(before, Convert.ToHexStringLower(SHA256.HashData(bytes)), StringComparison.Ordinal)
        );

        // The list agrees with the files; the manifest's digest of the list does not.
        Assert.Contains(Problems(crate, null), p => p.Contains("is not the list that crate.json speaks of", StringComparison.Ordinal));

        // Somebody who is thorough changes the manifest too, and its line in the list. What was noted when it was sealed is out of reach.
        string manifest = Path.Combine(crate.Folder.FullPath, CrateManifest.FileName),
            text = File.ReadAllText(manifest);
        string oldSum = Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(manifest)));
        text = text.Replace(
            CrateManifest.Read(text).Contents!,
            ChecksumList.Read(File.ReadAllText(list)).Digest(),
            StringComparison.Ordinal
        );
        File.WriteAllText(manifest, text);
        File.WriteAllText(
            list,
            File.ReadAllText(list)
                .Replace(oldSum, Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(manifest))), StringComparison.Ordinal)
        );
        Assert.Empty(Problems(crate, null));
        Assert.Equal(["SHA256SUMS is not the list that was noted when the crate was sealed"], Problems(crate, crate.SumsDigest));
    }

    [Fact]
    public void A_file_that_the_manifest_names_and_the_list_does_not_is_told()
    {
        SealedCrate crate = Seal();
        string list = Path.Combine(crate.Folder.FullPath, ChecksumList.FileName);
        File.WriteAllLines(list, File.ReadAllLines(list).Where(l => !l.EndsWith("sub/sub/sub.1004.exr", StringComparison.Ordinal)));
        File.Delete(Path.Combine(crate.Folder.FullPath, "sub/sub/sub.1004.exr"));
        Assert.Contains("sub/sub/sub.1004.exr is in the manifest and has no checksum", Problems(crate, null));
    }

    [Theory]
    [InlineData("extra")]
    [InlineData("sub/deep/er")]
    public void An_empty_folder_that_was_added_is_told(string folder)
    {
        SealedCrate crate = Seal();
        Directory.CreateDirectory(Path.Combine(crate.Folder.FullPath, folder));
        Assert.Equal([$"{folder} is an empty folder that was added"], Problems(crate, crate.SumsDigest));
    }

    [Fact]
    public void An_untouched_crate_has_the_digest_that_was_noted()
    {
        SealedCrate crate = Seal();
        Assert.Empty(Problems(crate, crate.SumsDigest));
        Assert.Equal(Tool.Run("sha256sum", Path.Combine(crate.Folder.FullPath, ChecksumList.FileName)).Split(' ')[0], crate.SumsDigest);
    }

    [Fact]
    public void Links_pipes_folders_and_what_may_not_be_read_are_told_and_nothing_is_followed()
    {
        SealedCrate crate = Seal();
        string At(string path) => Path.Combine(crate.Folder.FullPath, path);
        File.Copy(At("sub/sub/sub.1001.exr"), _to["outside.exr"]);
        File.Delete(At("sub/sub/sub.1001.exr"));
        File.CreateSymbolicLink(At("sub/sub/sub.1001.exr"), _to["outside.exr"]); // The same content, and still no part of the crate.
        File.Delete(At("sub/sub/sub.1002.exr"));
        Tool.Run("mkfifo", At("sub/sub/sub.1002.exr"));
        File.Delete(At("sub/sub/sub.1003.exr"));
        Directory.CreateDirectory(At("sub/sub/sub.1003.exr"));
        Directory.Move(At("kelp/kelp"), _to["kelp"]);
        Directory.CreateSymbolicLink(At("kelp/kelp"), _to["kelp"]);
        Directory.CreateSymbolicLink(At("loop"), crate.Folder.FullPath);
        string[] problems = [.. Problems(crate, crate.SumsDigest)];
        Assert.Contains("sub/sub/sub.1001.exr is a link, and a crate has none", problems);
        Assert.Contains("sub/sub/sub.1002.exr is no regular file, and a crate has none", problems);
        Assert.Contains("sub/sub/sub.1003.exr is missing", problems);
        Assert.Contains("kelp/kelp was added and is a link", problems);
        Assert.Contains("loop was added and is a link", problems);
        Assert.Equal(
            12,
            problems.Count(p => p.StartsWith("kelp/kelp/", StringComparison.Ordinal) && p.EndsWith("is missing", StringComparison.Ordinal))
        );
    }

    [Theory]
    [InlineData(ChecksumList.FileName)]
    [InlineData(PackingSlip.FileName)]
    public void A_document_that_is_gone_or_a_folder_is_told(string name)
    {
        SealedCrate crate = Seal();
        string path = Path.Combine(crate.Folder.FullPath, name);
        File.Delete(path);
        Assert.NotEmpty(Problems(crate, crate.SumsDigest));
        Directory.CreateDirectory(path);
        Assert.NotEmpty(Problems(crate, crate.SumsDigest));
    }

    [Fact]
    public void A_manifest_that_is_a_link_is_no_manifest()
    {
        SealedCrate crate = Seal();
        string path = Path.Combine(crate.Folder.FullPath, CrateManifest.FileName);
        File.Move(path, _to["crate.json"]);
        File.CreateSymbolicLink(path, _to["crate.json"]);
        Assert.Contains("is a link", Assert.Throws<FormatException>(() => Problems(crate, null)).Message);
    }

    [Fact]
    public void A_crate_is_known_again_by_its_word_and_by_nothing_else()
    {
        (CrateContents contents, CheckReport report) = shot.Read();
        var id = Guid.NewGuid();
        SealedCrate crate = CrateBuilder.Seal(contents, report, Disk.Folder(_to.Path), id, null, default);
        SealedCrate? found = CrateBuilder.Find(Disk.Folder(_to.Path), "KP010", id);
        Assert.Equal(crate.ToString(), found?.ToString());
        Assert.Null(CrateBuilder.Find(Disk.Folder(_to.Path), "KP010", Guid.NewGuid()));
        Assert.Null(CrateBuilder.Find(Disk.Folder(_to.Path), "KP011", id));
        Assert.False(CrateBuilder.Sweep(Disk.Folder(_to.Path), id));
    }

    [Fact]
    public void What_a_killed_sealing_left_goes_by_its_word()
    {
        var id = Guid.NewGuid();
        string left = _to[$".KP010_crate_v001.elsewhere.12.{id:N}.partial"],
            other = _to[$".KP010_crate_v001.elsewhere.12.{Guid.NewGuid():N}.partial"];
        Directory.CreateDirectory(Path.Combine(left, "sub"));
        File.WriteAllText(Path.Combine(left, "sub", "a.exr"), "half");
        Directory.CreateDirectory(other);
        Assert.True(CrateBuilder.Sweep(Disk.Folder(_to.Path), id));
        Assert.Equal([other], Directory.GetFileSystemEntries(_to.Path));
    }

    public void Dispose() => _to.Dispose();

    private SealedCrate Seal()
    {
        (CrateContents contents, CheckReport report) = shot.Read();
        return Seal(contents, report);
    }

    private SealedCrate Seal(CrateContents contents, CheckReport report) =>
        CrateBuilder.Seal(contents, report, Disk.Folder(_to.Path), Guid.NewGuid(), null, default);

    private static IEnumerable<string> Problems(SealedCrate crate, string? digest) =>
        CrateVerifier.Verify(crate.Folder, digest, default).Problems;

    /// <summary>A clean shot, checked once.</summary>
    public sealed class CheckedShot : IDisposable
    {
        public CheckedShot() => Checked = Disk.Check(Shot.Folder, Shot.Plan, FactsDepth.Pixels);

        internal ShotFixture Shot { get; } = new();

        public (IntakeResult Intake, CheckReport Report) Checked { get; }

        public (CrateContents Contents, CheckReport Report) Read() =>
            (Disk.Contents(Shot.Plan, Checked.Intake, CrateLayouts.ByLayer), Checked.Report);

        public void Dispose() => Shot.Dispose();
    }
}
