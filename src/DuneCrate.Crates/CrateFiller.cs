using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Text;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates.Converting;
using DuneCrate.Crates.Deltas;
using DuneCrate.Crates.Describing;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Exports;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Planning.Scene.Helpers;

namespace DuneCrate.Crates;

/// <summary>Writes everything that a crate holds into a folder, several files side by side.</summary>
internal sealed class CrateFiller(
    CrateContents contents,
    CheckReport report,
    StoragePath work,
    ReadLimits limits,
    OntoBase? onto,
    IProgress<CrateProgress>? progress,
    TimeProvider clock,
    CancellationToken cancel
)
{
    private const string LeadFile = "lead.ora",
        HelpersFile = "helpers.glb",
        HelperTableFile = "helpers.csv";

    private readonly ConcurrentDictionary<string, string> _sums = new(StringComparer.Ordinal),
        _carried = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, byte[]> _contents = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, HalfLoss> _losses = new(StringComparer.Ordinal);
    private readonly Lock _telling = new();
    private readonly CrateJournal _journal = new(work);
    private int _files;
    private long _bytes;

    /// <summary>
    /// XXH3 (128 bit) of the files that were copied just now, by their path: what reads back with it needs no slower hash.
    /// </summary>
    public IReadOnlyDictionary<string, byte[]> Contents => _contents;

    /// <summary>Writes all of it.</summary>
    /// <returns>The checksums of what was written.</returns>
    /// <exception cref="CrateRefusedException">A file is not what was checked, or cannot become what is wanted.</exception>
    /// <exception cref="IOException">The disk refuses.</exception>
    public ChecksumList Fill(string name, int version, Guid id, CrateSigner signer)
    {
        using (_journal)
        {
            _journal.KeepOnly(contents.Sequences.SelectMany(s => s.Files).Select(f => f.To));
            Pictures();
            _journal.Finish();
        }

        TakeAwayEmpty(work);

        ChecksumList sums = new(),
            carried = new();
        foreach ((string path, string sum) in _sums)
        {
            sums.Add(path, sum);
        }

        foreach ((string path, string sum) in _carried)
        {
            carried.Add(path, sum);
        }

        ImmutableArray<(CrateStack Stack, StackRecipe Recipe)> stacks = CrateStack.Of(contents);
        foreach ((CrateStack stack, StackRecipe recipe) in stacks)
        {
            sums.Add(stack.File, CrateText.Write(work.At(stack.File), recipe.Write()));
        }

        using var raster = new MemoryStream();
        SlipPictures pictures = SlipPictures.Make(contents, limits, raster, cancel);
        CrateManifest manifest = CrateDescription.Manifest(
            contents,
            name,
            version,
            clock.UtcNow,
            report.Findings,
            id,
            "",
            Losses(),
            limits
        ) with
        {
            Documents = new CrateDocuments
            {
                History = CrateHistory.FileName,
                Lead = raster.Length > 0 ? LeadFile : null,
                Helpers = HasHelpers ? HelpersFile : null,
                HelperTable = HasHelpers ? HelperTableFile : null,
            },
            Stacks = stacks.IsEmpty ? null : [.. stacks.Select(s => s.Stack)],
            SealedBy = signer.By.Length > 0 ? signer.By : null,
            SignedWith = signer.Key is null ? null : CrateSignature.Fingerprint(signer.Key),
        };
        manifest = manifest with { Onto = onto is null ? null : Onto(onto, manifest, sums, carried) };
        foreach ((string file, string document) in manifest.Documents!.All(manifest, contents.Plan, report))
        {
            sums.Add(file, CrateText.Write(work.At(file), document));
        }

        if (HasHelpers && HelperShots.Of(contents.Plan, contents.Shift) is { } shot)
        {
            byte[] scene = HelperGltf.Write(contents.Helpers.Helpers, shot);
            sums.Add(HelpersFile, CrateText.Write(work.At(HelpersFile), scene));
            sums.Add(HelperTableFile, CrateText.Write(work.At(HelperTableFile), HelperTable.Write(contents.Helpers.Helpers, shot.First)));
        }

        if (raster.Length > 0)
        {
            sums.Add(LeadFile, CrateText.Write(work.At(LeadFile), raster.ToArray()));
        }

        sums.Add(CrateHistory.FileName, CrateText.Write(work.At(CrateHistory.FileName), History(manifest, sums.With(carried), signer)));
        manifest = manifest with { Contents = sums.With(carried).Digest() };
        string slip = CrateText.Write(work.At(PackingSlip.FileName), PackingSlip.Write(manifest, pictures)),
            text = (manifest with { Slip = slip }).Write();
        sums.Add(PackingSlip.FileName, slip);
        sums.Add(CrateManifest.FileName, CrateText.Write(work.At(CrateManifest.FileName), text));
        if (signer.Key is not null)
        {
            byte[] signature = CrateSignature.Sign(signer.Key, text),
                key = Encoding.UTF8.GetBytes(signer.Key.ExportSubjectPublicKeyInfoPem() + "\n");
            sums.Add(CrateSignature.FileName, CrateText.Write(work.At(CrateSignature.FileName), signature));
            sums.Add(CrateSignature.KeyFileName, CrateText.Write(work.At(CrateSignature.KeyFileName), key));
        }

        if (onto is not null)
        {
            sums.Add(ChecksumList.CarriedFileName, CrateText.Write(work.At(ChecksumList.CarriedFileName), carried.Write()));
        }

        CrateText.Write(work.At(ChecksumList.FileName), sums.Write());
        return sums;
    }

    private bool HasHelpers => !contents.Helpers.Helpers.IsEmpty;

    /// <summary>What led to the crate.</summary>
    private string History(CrateManifest manifest, ChecksumList sums, CrateSigner signer) =>
        CrateHistory.Begin(
            (
                manifest.Sealed,
                "the application",
                CrateEventKinds.Checked,
                $"{Words.Count(report.Summary.Files, "file")}, every pixel; {Words.Count(manifest.Waived.Length, "finding")} accepted"
            ),
            (
                manifest.Sealed,
                signer.By.Length > 0 ? signer.By : "somebody",
                CrateEventKinds.Made,
                $"{manifest.Name}{(manifest.Receiver is { } whom ? $" for {whom}" : "")}, contents {sums.Digest()}"
            )
        );

    /// <summary>Copies and converts. Files that are made of the same rendered ones are made together.</summary>
    private void Pictures()
    {
        CrateFile[][] jobs =
        [
            .. contents.Sequences.SelectMany(s => s.Files).GroupBy(f => f.From, StringComparer.Ordinal).Select(g => g.ToArray()),
        ];
        int all = jobs.Sum(j => j.Length);
        try
        {
            Parallel.ForEach(
                jobs,
                new ParallelOptions
                {
                    MaxDegreeOfParallelism = Environment.ProcessorCount,
                    CancellationToken = cancel,
                    TaskScheduler = null,
                },
                job => Do(job, all)
            );
        }
        catch (AggregateException e)
        {
            // Several may have failed at once, as on a full disk; the first says enough.
            System.Runtime.ExceptionServices.ExceptionDispatchInfo.Throw(e.InnerExceptions[0]);
        }
    }

    private void Do(CrateFile[] job, int all)
    {
        foreach (CrateFile file in job.Where(_journal.IsStale))
        {
            work.At(file.To).Delete();
        }

        foreach (CrateFile file in job)
        {
            if (_journal.Find(file) is { } done)
            {
                Note(file, done);
            }
            else if (file.Conversion is null)
            {
                Copy(file);
            }
        }

        CrateFile[] made = [.. job.Where(f => f.Conversion is not null && _journal.Find(f) is null)];
        if (made.Length > 0)
        {
            ImmutableArray<MadeFile> files = FileMaker.Make(contents.Folder, work, made, limits, cancel);
            for (int i = 0; i < made.Length; i++)
            {
                if (!Note(made[i], files[i]))
                {
                    _journal.Note(made[i], files[i]);
                }
            }
        }

        lock (_telling)
        {
            _files += job.Length;
            _bytes += job.SelectMany(f => f.Sources).DistinctBy(s => s.Path).Sum(s => s.Bytes);
            progress?.Report(new CrateProgress("copying", _files, all, _bytes, contents.Bytes));
        }
    }

    /// <summary>Notes a file that stands in the crate; one that the older crate has is taken away again.</summary>
    /// <returns>Whether the older crate has it.</returns>
    private bool Note(CrateFile file, MadeFile made)
    {
        if (made.Loss is { } loss)
        {
            _losses[file.To] = loss;
        }

        bool isKnown = onto?.Sums.Sums.TryGetValue(file.To, out string? known) == true && known == made.Sum;
        (isKnown ? _carried : _sums)[file.To] = made.Sum;
        if (isKnown)
        {
            work.At(file.To).Delete();
        }

        return isKnown;
    }

    /// <summary>What was copied must be what the check read. What may be in the older crate is read before it is written.</summary>
    private void Copy(CrateFile file)
    {
        StoragePath from = contents.Folder.At(file.From);
        if (onto?.Sums.Sums.TryGetValue(file.To, out string? known) == true)
        {
            string sum = Checked(file, CrateCopy.Copy(from, null, cancel));
            if (sum == known)
            {
                _carried[file.To] = sum;
                return;
            }
        }

        (string Sum, byte[] Content, long Bytes) copied = CrateCopy.Copy(from, work.At(file.To), cancel, contents.IsLinked);
        var made = new MadeFile(Checked(file, copied), file.Bytes, null);
        (_sums[file.To], _contents[file.To]) = (made.Sum, copied.Content);
        _journal.Note(file, made);
    }

    private static string Checked(CrateFile file, (string Sum, byte[] Content, long Bytes) copied)
    {
        CrateSource source = file.Sources[0];
        if (
            copied.Bytes != source.Bytes
            || source.Content.IsDefaultOrEmpty
            || !copied.Content.AsSpan().SequenceEqual(source.Content.AsSpan())
        )
        {
            throw new CrateRefusedException(
                $"{file.From} is not what was checked: "
                    + (copied.Bytes != source.Bytes ? $"it has {copied.Bytes} bytes instead of {source.Bytes}" : "its content has changed")
                    + ". Check again, then seal."
            );
        }

        return copied.Sum;
    }

    private Dictionary<FrameName, HalfLoss> Losses()
    {
        var losses = new Dictionary<FrameName, HalfLoss>();
        foreach (CrateSequence sequence in contents.Sequences.Where(s => s.IsConverted))
        {
            HalfLoss[] found = [.. sequence.Files.Where(f => _losses.ContainsKey(f.To)).Select(f => _losses[f.To])];
            if (found.Length > 0)
            {
                losses[sequence.Name] = found.Aggregate((a, b) => a.With(b));
            }
        }

        return losses;
    }

    private static CrateOnto Onto(OntoBase older, CrateManifest manifest, ChecksumList sums, ChecksumList carried)
    {
        var changed = ImmutableArray.CreateBuilder<OntoChange>();
        foreach (CratePass pass in manifest.Passes)
        {
            var name = FrameName.Read(pass.Files);
            var frames = FrameSet.From(pass.Frames.Where(f => sums.Sums.ContainsKey(name.At(f))));
            if (!frames.IsEmpty)
            {
                bool isNew = !pass.Frames.Any(f => older.Sums.Sums.ContainsKey(name.At(f)));
                changed.Add(new OntoChange(pass.Layer, pass.Pass, pass.Files, frames, isNew));
            }
        }

        ChecksumList whole = sums.With(carried);
        int gone = older
            .Manifest.Passes.SelectMany(p => p.Frames.Select(FrameName.Read(p.Files).At))
            .Distinct()
            .Count(f => !whole.Sums.ContainsKey(f));
        return new CrateOnto(older.Manifest.Name, older.Manifest.Version, older.Digest, changed.ToImmutable(), gone);
    }

    /// <summary>Folders that were made for files which the older crate turned out to have, or that a killed sealing made.</summary>
    private static void TakeAwayEmpty(StoragePath folder)
    {
        foreach ((string name, FileStamp stamp) in folder.Entries().Where(e => e.Stamp.Kind == FileKind.Folder))
        {
            StoragePath inner = folder.Below(name);
            TakeAwayEmpty(inner);
            if (inner.Entries().Count == 0)
            {
                inner.DeleteFolder();
            }
        }
    }
}
