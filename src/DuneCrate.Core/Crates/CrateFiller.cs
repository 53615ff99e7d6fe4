using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Text;
using DuneCrate.Core.Checks.Reports;
using DuneCrate.Core.Crates.Converting;
using DuneCrate.Core.Crates.Deltas;
using DuneCrate.Core.Crates.Signing;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Stacking;
using DuneCrate.Core.Storage;

namespace DuneCrate.Core.Crates;

/// <summary>Writes everything that a crate holds into a folder, several files side by side.</summary>
internal sealed class CrateFiller(
    CrateContents contents,
    CheckReport report,
    StoragePath work,
    ReadLimits limits,
    OntoBase? onto,
    IProgress<CrateProgress>? progress,
    CancellationToken cancel
)
{
    private readonly ConcurrentDictionary<string, string> _sums = new(StringComparer.Ordinal),
        _carried = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, HalfLoss> _losses = new(StringComparer.Ordinal);
    private readonly Lock _telling = new();
    private int _files;
    private long _bytes;

    /// <summary>Writes all of it.</summary>
    /// <returns>The checksums of what was written.</returns>
    /// <exception cref="CrateRefusedException">A file is not what was checked, or cannot become what is wanted.</exception>
    /// <exception cref="IOException">The disk refuses.</exception>
    public ChecksumList Fill(string name, int version, Guid id, CrateSigner signer)
    {
        Pictures();
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

        CrateManifest manifest = CrateDescription.Manifest(
            contents,
            name,
            version,
            DateTime.UtcNow,
            report.Findings,
            id,
            sums.With(carried).Digest(),
            Losses()
        ) with
        {
            Stacks = stacks.IsEmpty ? null : [.. stacks.Select(s => s.Stack)],
            SealedBy = signer.By.Length > 0 ? signer.By : null,
            SignedWith = signer.Key is null ? null : CrateSignature.Fingerprint(signer.Key),
        };
        manifest = manifest with { Onto = onto is null ? null : Onto(onto, manifest, sums, carried) };
        string slip = CrateText.Write(work.At(PackingSlip.FileName), PackingSlip.Write(manifest)),
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

        foreach (CrateSequence sequence in onto is null ? [] : contents.Sequences)
        {
            if (sequence.Files.All(f => _carried.ContainsKey(f.To)))
            {
                TakeAwayEmpty(sequence.Name.Prefix);
            }
        }
    }

    private void Do(CrateFile[] job, int all)
    {
        foreach (CrateFile copy in job.Where(f => f.Conversion is null))
        {
            Note(copy, Copy(copy));
        }

        CrateFile[] made = [.. job.Where(f => f.Conversion is not null)];
        if (made.Length > 0)
        {
            ImmutableArray<MadeFile> files = FileMaker.Make(contents.Folder, work, made, limits, cancel);
            for (int i = 0; i < made.Length; i++)
            {
                if (files[i].Loss is { } loss)
                {
                    _losses[made[i].To] = loss;
                }

                if (IsKnown(made[i].To, files[i].Sum))
                {
                    work.At(made[i].To).Delete();
                }

                Note(made[i], files[i].Sum);
            }
        }

        lock (_telling)
        {
            _files += job.Length;
            _bytes += job.SelectMany(f => f.Sources).DistinctBy(s => s.Path).Sum(s => s.Bytes);
            progress?.Report(new CrateProgress("copying", _files, all, _bytes, contents.Bytes));
        }
    }

    private void Note(CrateFile file, string sum) => (IsKnown(file.To, sum) ? _carried : _sums)[file.To] = sum;

    /// <summary>Whether the older crate has the very file under the same name.</summary>
    private bool IsKnown(string path, string sum) => onto?.Sums.Sums.TryGetValue(path, out string? known) == true && known == sum;

    /// <summary>What was copied must be what the check read. What may be in the older crate is read before it is written.</summary>
    private string Copy(CrateFile file)
    {
        StoragePath from = contents.Folder.At(file.From);
        if (onto?.Sums.Sums.TryGetValue(file.To, out string? known) == true)
        {
            string sum = Checked(file, CrateCopy.Copy(from, null, cancel));
            if (sum == known)
            {
                return sum;
            }
        }

        return Checked(file, CrateCopy.Copy(from, work.At(file.To), cancel));
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

    /// <summary>Folders that were made for files which the older crate turned out to have.</summary>
    private void TakeAwayEmpty(string prefix)
    {
        for (int end = prefix.LastIndexOf('/'); end > 0; end = prefix.LastIndexOf('/', end - 1))
        {
            StoragePath folder = work.At(prefix[..end]);
            if (!folder.IsFolder || folder.Entries().Count > 0)
            {
                break;
            }

            folder.DeleteFolder();
        }
    }
}
