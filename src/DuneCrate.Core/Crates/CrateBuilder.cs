using System.Buffers;
using System.Collections.Immutable;
using System.Globalization;
using System.IO.Hashing;
using System.Security.Cryptography;
using System.Text;
using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Reports;
using DuneCrate.Core.Crates.Signing;
using DuneCrate.Core.Documents;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Stacking;
using DuneCrate.Core.Storage;

namespace DuneCrate.Core.Crates;

/// <summary>
/// Seals crates. Everything is copied and hashed into a hidden folder beside the crate's place, held against what the check read, flushed
/// to disk, read back against its checksums, and
/// then renamed: at no moment is there half a crate under the crate's name.
/// </summary>
public static class CrateBuilder
{
    private const string Partial = ".partial";
    private const int BufferBytes = 1 << 20;
    private const UnixFileMode ReadOnly = UnixFileMode.UserRead | UnixFileMode.GroupRead | UnixFileMode.OtherRead;

    /// <summary>The version that a new crate of a shot would get below a folder: one above the highest there is.</summary>
    public static int NextVersion(StoragePath destination, string shot)
    {
        string prefix = $"{shot}_crate_v";
        int Version(string name) =>
            name.StartsWith(prefix, StringComparison.Ordinal)
            && int.TryParse(name.AsSpan(prefix.Length), NumberStyles.None, CultureInfo.InvariantCulture, out int version)
            && version < int.MaxValue
                ? version
                : 0;
        return !destination.IsFolder ? 1 : 1 + destination.Entries().Select(e => Version(e.Name)).DefaultIfEmpty(0).Max();
    }

    /// <summary>Name of a crate's folder: <c>KP010_crate_v001</c>.</summary>
    public static string NameOf(string shot, int version) => string.Create(CultureInfo.InvariantCulture, $"{shot}_crate_v{version:000}");

    /// <summary>Why a report keeps a crate from being sealed, or null.</summary>
    public static string? WhatBlocks(CheckReport report)
    {
        Finding[] blockers = [.. report.Findings.Where(f => f.Blocks)];
        Finding[] settling = [.. report.Findings.Where(f => f.RemedyKind == RemedyKind.Wait)];
        return blockers.Length > 0
                ? $"{Words.Count(blockers.Length, "finding blocks", "findings block")} the crate: "
                    + $"{string.Join("; ", blockers.Take(4).Select(f => $"{f.Rule} {f.Layer} {f.Frames}"))}"
                    + $"{(blockers.Length > 4 ? " …" : "")}. "
                    + "Mend them, or waive them by name and reason."
            : settling.Length > 0 ? $"{settling.Sum(f => f.Frames.LongCount)} files are still being written. Wait, check again, then seal."
            : null;
    }

    /// <summary>Seals a crate.</summary>
    /// <param name="contents">What goes in.</param>
    /// <param name="report">The check that it rests on, waivers included; must be at pixel depth.</param>
    /// <param name="destination">Where the crate's folder is put; made when it is not there.</param>
    /// <param name="id">A word of its own, by which whoever asks knows the crate again.</param>
    /// <param name="progress">Told after every file.</param>
    /// <param name="cancel">Stops; nothing is left.</param>
    /// <param name="signer">Who seals it, and with which key; null for nobody.</param>
    /// <exception cref="CrateRefusedException">Something blocks, a file is not what was checked, or what was written does not read
    /// back.</exception>
    /// <exception cref="IOException">The disk is full or a file cannot be read or written; the message says when something is
    /// left.</exception>
    /// <exception cref="OperationCanceledException">It was stopped, and nothing is left.</exception>
    public static SealedCrate Seal(
        CrateContents contents,
        CheckReport report,
        StoragePath destination,
        Guid id,
        IProgress<CrateProgress>? progress,
        CancellationToken cancel,
        CrateSigner? signer = null
    )
    {
        if (WhatBlocks(report) is { } reason)
        {
            throw new CrateRefusedException(reason);
        }

        if (contents.Files == 0)
        {
            throw new CrateRefusedException("There is nothing to seal: no file of the plan has come.");
        }

        if (report.Depth != FactsDepth.Pixels)
        {
            throw new CrateRefusedException("The check has read headers only. Check every pixel first.");
        }

        destination.CreateFolder();
        SweepAbandoned(destination);
        int version = NextVersion(destination, contents.Plan.Shot.Code);
        string name = NameOf(contents.Plan.Shot.Code, version);
        StoragePath work = destination.At($".{name}.{Machine}.{Environment.ProcessId}.{id:N}{Partial}"),
            final = destination.At(name),
            stands = work;
        try
        {
            work.CreateFolder();
            ChecksumList sums = Fill(contents, report, work, name, version, id, signer ?? CrateSigner.Nobody, progress, cancel);
            string digest = ChecksumList.Digest(sums.Write());
            CrateProof proof = CrateVerifier.Verify(
                work,
                name,
                digest,
                [],
                (done, of) => progress?.Report(new CrateProgress("proving", done, of, 0, 0)),
                cancel
            );
            if (!proof.IsWhole)
            {
                throw new CrateRefusedException(
                    $"What was written does not read back: {proof.Problems[0]}. Nothing was sealed; look at the disk."
                );
            }

            FlushFolders(work);
            work.MoveTo(final);
            stands = final;
            destination.FlushFolder();
            return new SealedCrate(final, name, sums.Sums.Count + 1, proof.Bytes + Encoding.UTF8.GetByteCount(sums.Write()), digest);
        }
        catch (Exception e)
        {
            try
            {
                stands.DeleteFolder();
            }
            catch (Exception left) when (left is IOException or UnauthorizedAccessException)
            {
                throw new IOException($"{e.Message} What had been written could not be taken away and is left in {stands}.", e);
            }

            throw;
        }
    }

    /// <summary>
    /// The crate that was sealed under a word of its own, if it is there; for whoever was killed before he could note it.
    /// </summary>
    public static SealedCrate? Find(StoragePath destination, string shot, Guid id)
    {
        string prefix = $"{shot}_crate_v";
        foreach ((string name, FileStamp stamp) in destination.IsFolder ? destination.Entries() : [])
        {
            StoragePath folder = destination.Below(name);
            if (
                stamp.Kind != FileKind.Folder
                || !name.StartsWith(prefix, StringComparison.Ordinal)
                || CrateVerifier.ManifestOf(folder)?.Id != id.ToString("N")
            )
            {
                continue;
            }

            (string Path, FileStamp Stamp)[] files = [.. folder.Everything()];
            string sums = folder.At(ChecksumList.FileName).ReadText(ChecksumList.MostBytes);
            return new SealedCrate(folder, name, files.Length, files.Sum(f => f.Stamp.Length), ChecksumList.Digest(sums));
        }

        return null;
    }

    /// <summary>Takes away what a killed sealing left under a word of its own.</summary>
    /// <returns>Whether anything was there.</returns>
    /// <exception cref="IOException">It cannot be taken away.</exception>
    public static bool Sweep(StoragePath destination, Guid id)
    {
        string end = $".{id:N}{Partial}";
        StoragePath? left = destination.IsFolder
            ? destination
                .Entries()
                .Where(e => e.Name.EndsWith(end, StringComparison.Ordinal))
                .Select(e => destination.Below(e.Name))
                .FirstOrDefault()
            : null;
        left?.DeleteFolder();
        return left is not null;
    }

    private static ChecksumList Fill(
        CrateContents contents,
        CheckReport report,
        StoragePath work,
        string name,
        int version,
        Guid id,
        CrateSigner signer,
        IProgress<CrateProgress>? progress,
        CancellationToken cancel
    )
    {
        var sums = new ChecksumList();
        CrateFile[] files = [.. contents.Sequences.SelectMany(s => s.Files)];
        long done = 0;
        byte[] buffer = ArrayPool<byte>.Shared.Rent(BufferBytes);
        try
        {
            for (int i = 0; i < files.Length; i++)
            {
                sums.Add(files[i].To, Copy(contents.Folder.At(files[i].From), work.At(files[i].To), files[i], buffer, cancel));
                done += files[i].Bytes;
                progress?.Report(new CrateProgress("copying", i + 1, files.Length, done, contents.Bytes));
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }

        ImmutableArray<(CrateStack Stack, StackRecipe Recipe)> stacks = CrateStack.Of(contents);
        foreach ((CrateStack stack, StackRecipe recipe) in stacks)
        {
            sums.Add(stack.File, WriteText(work.At(stack.File), recipe.Write()));
        }

        DateTime now = DateTime.UtcNow;
        CrateManifest manifest = CrateDescription.Manifest(contents, name, version, now, report.Findings, id, sums.Digest()) with
        {
            Stacks = stacks.IsEmpty ? null : [.. stacks.Select(s => s.Stack)],
            SealedBy = signer.By.Length > 0 ? signer.By : null,
            SignedWith = signer.Key is null ? null : CrateSignature.Fingerprint(signer.Key),
        };
        string slip = WriteText(work.At(PackingSlip.FileName), PackingSlip.Write(manifest)),
            text = (manifest with { Slip = slip }).Write();
        sums.Add(PackingSlip.FileName, slip);
        sums.Add(CrateManifest.FileName, WriteText(work.At(CrateManifest.FileName), text));
        if (signer.Key is not null)
        {
            byte[] signature = CrateSignature.Sign(signer.Key, text),
                key = Encoding.UTF8.GetBytes(signer.Key.ExportSubjectPublicKeyInfoPem() + "\n");
            sums.Add(CrateSignature.FileName, WriteBytes(work.At(CrateSignature.FileName), signature));
            sums.Add(CrateSignature.KeyFileName, WriteBytes(work.At(CrateSignature.KeyFileName), key));
        }

        WriteText(work.At(ChecksumList.FileName), sums.Write());
        return sums;
    }

    /// <summary>Copies and hashes in one reading; the copy is flushed to the disk. What was copied must be what the check read.</summary>
    private static string Copy(StoragePath from, StoragePath to, CrateFile file, byte[] buffer, CancellationToken cancel)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var content = new XxHash128();
        using StorageFile input = from.Open();
        using FileStream output = to.CreateNew();
        long copied = 0;
        for (int read; (read = RandomAccess.Read(input.Handle, buffer.AsSpan(0, BufferBytes), copied)) > 0; copied += read)
        {
            cancel.ThrowIfCancellationRequested();
            hash.AppendData(buffer, 0, read);
            content.Append(buffer.AsSpan(0, read));
            output.Write(buffer, 0, read);
        }

        if (
            copied != file.Bytes
            || file.Content.IsDefaultOrEmpty
            || !content.GetCurrentHash().AsSpan().SequenceEqual(file.Content.AsSpan())
        )
        {
            throw new CrateRefusedException(
                $"{file.From} is not what was checked: "
                    + $"{(copied != file.Bytes ? $"it has {copied} bytes instead of {file.Bytes}" : "its content has changed")}. "
                    + "Check again, then seal."
            );
        }

        File.SetUnixFileMode(output.SafeFileHandle, ReadOnly);
        output.Flush(flushToDisk: true);
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    private static string WriteText(StoragePath path, string text) => WriteBytes(path, Encoding.UTF8.GetBytes(text));

    private static string WriteBytes(StoragePath path, byte[] bytes)
    {
        using FileStream output = path.CreateNew();
        output.Write(bytes);
        File.SetUnixFileMode(output.SafeFileHandle, ReadOnly);
        output.Flush(flushToDisk: true);
        return Convert.ToHexStringLower(SHA256.HashData(bytes));
    }

    private static void FlushFolders(StoragePath folder)
    {
        foreach ((string name, FileStamp stamp) in folder.Entries())
        {
            if (stamp.Kind == FileKind.Folder)
            {
                FlushFolders(folder.Below(name));
            }
        }

        folder.FlushFolder();
    }

    private static string Machine => string.Concat(Environment.MachineName.Where(c => char.IsAsciiLetterOrDigit(c) || c == '-'));

    /// <summary>
    /// Removes what killed builds left: hidden folders of ours whose process on this machine is gone. Those of other machines on a
    /// shared store are left alone for a day.
    /// </summary>
    private static void SweepAbandoned(StoragePath destination)
    {
        foreach ((string name, FileStamp stamp) in destination.Entries())
        {
            string[] pieces = name.Split('.');
            if (
                stamp.Kind != FileKind.Folder
                || !name.StartsWith('.')
                || !name.EndsWith(Partial, StringComparison.Ordinal)
                || !name.Contains("_crate_v", StringComparison.Ordinal)
                || pieces.Length < 6
            )
            {
                continue;
            }

            bool isOurs = pieces[^4] == Machine && int.TryParse(pieces[^3], NumberStyles.None, CultureInfo.InvariantCulture, out _);
            if (isOurs ? !IsRunning(pieces[^3], stamp) : DateTime.UtcNow - stamp.Modified > TimeSpan.FromDays(1))
            {
                destination.Below(name).DeleteFolder();
            }
        }
    }

    /// <summary>
    /// Whether the process that made a folder still runs; a process that began after the folder was last changed only has its number.
    /// </summary>
    private static bool IsRunning(string process, FileStamp folder) =>
        Directory.Exists($"/proc/{process}") && Directory.GetLastWriteTimeUtc($"/proc/{process}") <= folder.Modified.AddSeconds(1);
}
