using System.Buffers;
using System.Collections.Immutable;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using DuneCrate.Core.Checks;

namespace DuneCrate.Core.Crates;

/// <summary>How far the sealing is.</summary>
/// <param name="Doing">What is being done: copying, proving.</param>
/// <param name="Files">Files done.</param>
/// <param name="OfFiles">All files.</param>
/// <param name="Bytes">Bytes done.</param>
/// <param name="OfBytes">All bytes.</param>
public readonly record struct CrateProgress(string Doing, int Files, int OfFiles, long Bytes, long OfBytes);

/// <summary>The crate cannot be sealed; the message says why and what to do.</summary>
public sealed class CrateRefusedException(string message) : Exception(message);

/// <summary>
/// Seals crates. Everything is copied and hashed into a hidden folder beside the crate's place, flushed to disk, read back against
/// its checksums, and then renamed: at no moment is there half a crate under the crate's name.
/// </summary>
public static class CrateBuilder
{
    private const string Partial = ".partial";
    private const int BufferBytes = 1 << 20;

    /// <summary>The version that a new crate of a shot would get below a folder: one above the highest there is.</summary>
    public static int NextVersion(string destination, string shot)
    {
        string prefix = $"{shot}_crate_v";
        return !Directory.Exists(destination) ? 1 : 1 + Directory.EnumerateFileSystemEntries(destination, prefix + "*").Select(Path.GetFileName)
            .Select(n => int.TryParse(n.AsSpan(prefix.Length), NumberStyles.None, CultureInfo.InvariantCulture, out int version) ? version : 0).DefaultIfEmpty(0).Max();
    }

    /// <summary>Name of a crate's folder: <c>KP010_crate_v001</c>.</summary>
    public static string NameOf(string shot, int version) => string.Create(CultureInfo.InvariantCulture, $"{shot}_crate_v{version:000}");

    /// <summary>Why a report keeps a crate from being sealed, or null.</summary>
    public static string? WhatBlocks(CheckReport report)
    {
        Finding[] blockers = [.. report.Findings.Where(f => f.Blocks)];
        Finding[] settling = [.. report.Findings.Where(f => f.RemedyKind == RemedyKind.Wait)];
        return blockers.Length > 0
            ? $"{blockers.Length} {(blockers.Length == 1 ? "finding blocks" : "findings block")} the crate: {string.Join("; ", blockers.Take(4).Select(f => $"{f.Rule} {f.Layer} {f.Frames}"))}{(blockers.Length > 4 ? " …" : "")}. Mend them, or waive them by name and reason."
            : settling.Length > 0 ? $"{settling.Sum(f => f.Frames.LongCount)} files are still being written. Wait, check again, then seal." : null;
    }

    /// <summary>Seals a crate and returns its folder.</summary>
    /// <param name="contents">What goes in.</param>
    /// <param name="report">The check that it rests on, waivers included; must be at pixel depth.</param>
    /// <param name="source">The folder that the files come from.</param>
    /// <param name="destination">Where the crate's folder is put; made when it is not there.</param>
    /// <param name="progress">Told after every file.</param>
    /// <param name="cancel">Stops; nothing is left.</param>
    /// <exception cref="CrateRefusedException">Something blocks, a file changed since the check, or what was written does not read back.</exception>
    /// <exception cref="IOException">The disk is full or a file cannot be read or written; nothing is left.</exception>
    public static string Seal(CrateContents contents, CheckReport report, string source, string destination, IProgress<CrateProgress>? progress = null, CancellationToken cancel = default)
    {
        if (WhatBlocks(report) is { } reason)
        {
            throw new CrateRefusedException(reason);
        }

        if (contents.Files == 0)
        {
            throw new CrateRefusedException("There is nothing to seal: no file of the plan has come.");
        }

        if (report.Depth != Intake.FactsDepth.Pixels)
        {
            throw new CrateRefusedException("The check has read headers only. Check every pixel first.");
        }

        Directory.CreateDirectory(destination);
        SweepAbandoned(destination);
        int version = NextVersion(destination, contents.Plan.Shot.Code);
        string name = NameOf(contents.Plan.Shot.Code, version), work = Path.Combine(destination, $".{name}.{Machine}.{Environment.ProcessId}.{Guid.NewGuid():N}{Partial}");
        Directory.CreateDirectory(work);
        try
        {
            Fill(contents, report, source, work, name, version, progress, cancel);
            CrateProof proof = CrateVerifier.Verify(work, name, (done, of) => progress?.Report(new CrateProgress("proving", done, of, 0, 0)), cancel);
            if (!proof.IsWhole)
            {
                throw new CrateRefusedException($"What was written does not read back: {proof.Problems[0]}. Nothing was sealed; look at the disk.");
            }

            string final = Path.Combine(destination, name);
            Directory.Move(work, final);
            return final;
        }
        catch
        {
            Directory.Delete(work, recursive: true);
            throw;
        }
    }

    private static void Fill(CrateContents contents, CheckReport report, string source, string work, string name, int version, IProgress<CrateProgress>? progress, CancellationToken cancel)
    {
        var sums = new SortedDictionary<string, string>(StringComparer.Ordinal);
        CrateFile[] files = [.. contents.Sequences.SelectMany(s => s.Files)];
        long done = 0;
        byte[] buffer = ArrayPool<byte>.Shared.Rent(BufferBytes);
        try
        {
            for (int i = 0; i < files.Length; i++)
            {
                cancel.ThrowIfCancellationRequested();
                sums[files[i].To] = Copy(Path.Combine(source, files[i].From), Path.Combine(work, files[i].To), files[i], buffer);
                done += files[i].Bytes;
                progress?.Report(new CrateProgress("copying", i + 1, files.Length, done, contents.Bytes));
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }

        CrateManifest manifest = CrateDescription.Manifest(contents, name, version, DateTime.UtcNow, report.Findings);
        sums["crate.json"] = WriteText(Path.Combine(work, "crate.json"), manifest.Write());
        sums["slip.html"] = WriteText(Path.Combine(work, "slip.html"), PackingSlip.Write(manifest));
        WriteText(Path.Combine(work, CrateVerifier.SumsFile), string.Concat(sums.Select(s => $"{s.Value}  {s.Key}\n")));
    }

    /// <summary>Copies and hashes in one reading; the copy is flushed to the disk.</summary>
    private static string Copy(string from, string to, CrateFile file, byte[] buffer)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(to)!);
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        using var input = new FileStream(from, FileMode.Open, FileAccess.Read, FileShare.Read, 0, FileOptions.SequentialScan);
        using var output = new FileStream(to, FileMode.CreateNew, FileAccess.Write, FileShare.None, 0);
        long copied = 0;
        for (int read; (read = input.Read(buffer)) > 0; copied += read)
        {
            hash.AppendData(buffer, 0, read);
            output.Write(buffer, 0, read);
        }

        if (copied != file.Bytes)
        {
            throw new CrateRefusedException($"{file.From} has changed since the check: {copied} bytes instead of {file.Bytes}. Check again, then seal.");
        }

        output.Flush(flushToDisk: true);
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    private static string WriteText(string path, string text)
    {
        byte[] bytes = Encoding.UTF8.GetBytes(text);
        using var output = new FileStream(path, FileMode.CreateNew, FileAccess.Write);
        output.Write(bytes);
        output.Flush(flushToDisk: true);
        return Convert.ToHexStringLower(SHA256.HashData(bytes));
    }

    private static string Machine => string.Concat(Environment.MachineName.Where(c => char.IsAsciiLetterOrDigit(c) || c == '-'));

    /// <summary>
    /// Removes what killed builds left: hidden folders of ours whose process on this machine is gone. Those of other machines on a
    /// shared store are left alone for a day.
    /// </summary>
    private static void SweepAbandoned(string destination)
    {
        foreach (string left in Directory.EnumerateDirectories(destination, $".*_crate_v*{Partial}"))
        {
            string[] pieces = Path.GetFileName(left).Split('.');
            bool isOurs = pieces.Length > 5 && pieces[^4] == Machine && int.TryParse(pieces[^3], NumberStyles.None, CultureInfo.InvariantCulture, out _);
            bool isGone = isOurs ? !Directory.Exists($"/proc/{pieces[^3]}") : DateTime.UtcNow - Directory.GetLastWriteTimeUtc(left) > TimeSpan.FromDays(1);
            if (isGone)
            {
                Directory.Delete(left, recursive: true);
            }
        }
    }
}
