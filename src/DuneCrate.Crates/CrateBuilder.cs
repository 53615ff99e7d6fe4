using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates.Deltas;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;

namespace DuneCrate.Crates;

/// <summary>
/// Seals crates. Everything is copied and hashed into a hidden folder beside the crate's place, held against what the check read, flushed
/// to disk, read back against its checksums, and
/// then renamed: at no moment is there half a crate under the crate's name.
/// </summary>
public static class CrateBuilder
{
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
    /// <param name="limits">Bounds on what is read while files are converted; null for the usual ones.</param>
    /// <param name="onto">An older crate: what is the same there does not go in again; null for a whole crate.</param>
    /// <param name="clock">Tells when it is sealed; the system does without.</param>
    /// <exception cref="CrateRefusedException">Something blocks, a file is not what was checked, or what was written does not read
    /// back.</exception>
    /// <exception cref="IOException">The disk is full or a file cannot be read or written; the message says when something is
    /// left.</exception>
    /// <exception cref="OperationCanceledException">It was stopped, and nothing is left.</exception>
    /// <exception cref="SealingPausedException">Whoever is told of the progress put it off; what was written is left.</exception>
    public static SealedCrate Seal(
        CrateContents contents,
        CheckReport report,
        StoragePath destination,
        Guid id,
        IProgress<CrateProgress>? progress,
        CancellationToken cancel,
        CrateSigner? signer = null,
        ReadLimits? limits = null,
        OntoBase? onto = null,
        TimeProvider? clock = null
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

        var publishing = new CratePublishing(destination, clock ?? TimeProvider.System, contents.Plan.Shot.Code, id);
        int version = NextVersion(destination, contents.Plan.Shot.Code);
        string name = NameOf(contents.Plan.Shot.Code, version);
        return publishing.Publish(
            name,
            id,
            onto is null ? CrateCost.Of(contents).Bytes : 0,
            work =>
            {
                var filler = new CrateFiller(
                    contents,
                    report,
                    work,
                    limits ?? ReadLimits.Default,
                    onto,
                    progress,
                    clock ?? TimeProvider.System,
                    cancel
                );
                return (filler.Fill(name, version, id, signer ?? CrateSigner.Nobody), filler.Contents);
            },
            progress,
            cancel
        );
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
        string end = $".{id:N}{CratePublishing.Partial}";
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
}
