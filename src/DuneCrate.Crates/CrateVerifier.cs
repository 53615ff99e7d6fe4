using System.Collections.Concurrent;
using System.IO.Hashing;
using System.Security.Cryptography;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates;

/// <summary>
/// Reads crates back against their manifest and checksums. Whatever a crate holds, the answer is what is whole and what is not; no link in
/// it is followed.
/// </summary>
public static class CrateVerifier
{
    /// <summary>Reads a crate back.</summary>
    /// <param name="crate">Its folder.</param>
    /// <param name="sumsDigest">SHA-256 of its list of checksums as it was noted when it was sealed; null when nobody noted it.</param>
    /// <param name="cancel">Stops.</param>
    /// <param name="keys">Public keys of which one must have signed it; null when any or none will do.</param>
    /// <exception cref="FormatException">The folder is no crate: it has no valid crate.json.</exception>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    public static CrateProof Verify(
        StoragePath crate,
        string? sumsDigest,
        CancellationToken cancel,
        IReadOnlyCollection<ECDsa>? keys = null
    ) => Verify(crate, Path.GetFileName(crate.FullPath), sumsDigest, keys ?? [], null, null, cancel);

    /// <param name="crate">Its folder.</param>
    /// <param name="name">The name that it must have.</param>
    /// <param name="sumsDigest">SHA-256 of its list of checksums; null when nobody noted it.</param>
    /// <param name="keys">Public keys of which one must have signed it.</param>
    /// <param name="contents">XXH3 (128 bit) of files that whoever asks has just written, with their SHA-256 known of the same bytes: these
    /// are read back by it, which is several times as fast; null for none.</param>
    /// <param name="progress">Told of files done, of all.</param>
    /// <param name="cancel">Stops.</param>
    internal static CrateProof Verify(
        StoragePath crate,
        string name,
        string? sumsDigest,
        IReadOnlyCollection<ECDsa> keys,
        IReadOnlyDictionary<string, byte[]>? contents,
        Action<int, int>? progress,
        CancellationToken cancel
    )
    {
        (CrateManifest manifest, string text) = Manifest(crate);
        var problems = new ConcurrentBag<string>();
        if (manifest.Name != name)
        {
            problems.Add($"the folder is called {name}, the crate {manifest.Name}");
        }

        ChecksumList sums = Sums(crate, manifest, sumsDigest, problems, out ChecksumList? carried);
        if (SignatureProblem(crate, manifest, text, keys) is { } unsigned)
        {
            problems.Add(unsigned);
        }

        if (manifest.Documents?.History is not null && CrateHistory.Of(crate).Problem is { } broken)
        {
            problems.Add(broken);
        }

        Dictionary<string, FileStamp> present = Present(crate, problems);
        foreach ((string path, FileStamp stamp) in present.Where(p => !sums.Sums.ContainsKey(p.Key) && p.Key != ChecksumList.FileName))
        {
            problems.Add(stamp.Kind == FileKind.Regular ? $"{path} was added" : $"{path} was added and is {Word(stamp.Kind)}");
        }

        long bytes = 0;
        int done = 0;
        Parallel.ForEach(
            sums.Sums,
            new ParallelOptions
            {
                MaxDegreeOfParallelism = Environment.ProcessorCount,
                CancellationToken = cancel,
                TaskScheduler = null,
            },
            entry =>
            {
                if (
                    Problem(crate, entry.Key, entry.Value, contents?.GetValueOrDefault(entry.Key), present, ref bytes, cancel) is
                    { } problem
                )
                {
                    problems.Add(problem);
                }

                progress?.Invoke(Interlocked.Increment(ref done), sums.Sums.Count);
            }
        );
        foreach (CratePass pass in manifest.Passes)
        {
            FrameName files = FrameName.Read(pass.Files);
            if (
                pass.Frames.Select(files.At).FirstOrDefault(f => !sums.Sums.ContainsKey(f) && carried?.Sums.ContainsKey(f) != true) is
                { } missing
            )
            {
                problems.Add($"{missing} is in the manifest and has no checksum");
            }
        }

        return new CrateProof(manifest, sums.Sums.Count, bytes, [.. problems.Distinct().Order(StringComparer.Ordinal)])
        {
            Carried = carried?.Sums.Count,
        };
    }

    /// <summary>The manifest of a folder, or null when it is no crate.</summary>
    public static CrateManifest? ManifestOf(StoragePath crate)
    {
        try
        {
            return Manifest(crate).Manifest;
        }
        catch (FormatException)
        {
            return null;
        }
    }

    private static (CrateManifest Manifest, string Text) Manifest(StoragePath crate)
    {
        try
        {
            string text = crate.At(CrateManifest.FileName).ReadText(CrateManifest.MostBytes);
            return (CrateManifest.Read(text), text);
        }
        catch (FileNotFoundException) when (!crate.IsFolder)
        {
            throw new DirectoryNotFoundException($"There is no folder {crate}.");
        }
        catch (FileNotFoundException)
        {
            throw new FormatException($"{crate} is no crate: it has no {CrateManifest.FileName}.");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new FormatException($"{crate} is no crate: its {CrateManifest.FileName} {StorageException.ReasonOf(e)}.");
        }
    }

    /// <summary>What is wrong with a crate's signature, or null.</summary>
    private static string? SignatureProblem(StoragePath crate, CrateManifest manifest, string text, IReadOnlyCollection<ECDsa> keys)
    {
        if (manifest.SignedWith is not { } print)
        {
            return keys.Count > 0 ? "it is not signed" : null;
        }

        try
        {
            using StorageFile file = crate.At(CrateSignature.FileName).OpenItself();
            byte[] signature = new byte[Math.Min(file.Length, CrateSignature.MostBytes)];
            RandomAccess.Read(file.Handle, signature, 0);
            using ECDsa own = CrateSignature.Read(crate.At(CrateSignature.KeyFileName).ReadText(CrateSignature.MostBytes));
            return CrateSignature.Fingerprint(own) != print ? $"{CrateSignature.KeyFileName} is not the key that it says it is signed with"
                : !CrateSignature.IsOf(own, text, signature) ? $"{CrateManifest.FileName} is not what was signed"
                : keys.Count > 0 && keys.All(k => CrateSignature.Fingerprint(k) != print)
                    ? $"it is signed with a key that is not known here: {print}"
                : null;
        }
        catch (FormatException e)
        {
            return $"{CrateSignature.KeyFileName}: {e.Message.TrimEnd('.')}";
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return $"its signature {StorageException.ReasonOf(e)}";
        }
    }

    /// <summary>
    /// The list of checksums, held against what the manifest and the application know of it; empty when it cannot be read.
    /// </summary>
    private static ChecksumList Sums(
        StoragePath crate,
        CrateManifest manifest,
        string? sumsDigest,
        ConcurrentBag<string> problems,
        out ChecksumList? carried
    )
    {
        carried = null;
        string text;
        ChecksumList sums;
        try
        {
            text = crate.At(ChecksumList.FileName).ReadText(ChecksumList.MostBytes);
            sums = ChecksumList.Read(text);
        }
        catch (FormatException e)
        {
            problems.Add(e.Message.TrimEnd('.'));
            return new ChecksumList();
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            problems.Add($"{ChecksumList.FileName} {StorageException.ReasonOf(e)}");
            return new ChecksumList();
        }

        foreach (string needed in (string[])[CrateManifest.FileName, PackingSlip.FileName])
        {
            if (!sums.Sums.ContainsKey(needed))
            {
                problems.Add($"{needed} has no checksum");
            }
        }

        if (manifest.Slip is { } slip && sums.Sums.TryGetValue(PackingSlip.FileName, out string? listed) && listed != slip)
        {
            problems.Add($"{PackingSlip.FileName} is not the slip that {CrateManifest.FileName} speaks of");
        }

        ChecksumList whole = sums;
        if (manifest.Onto is not null && crate.At(ChecksumList.CarriedFileName).IsThere)
        {
            try
            {
                carried = ChecksumList.Read(crate.At(ChecksumList.CarriedFileName).ReadText(ChecksumList.MostBytes));
                whole = sums.With(carried);
            }
            catch (Exception e) when (e is FormatException or ArgumentException or IOException or UnauthorizedAccessException)
            {
                problems.Add($"{ChecksumList.CarriedFileName} cannot be read");
            }
        }

        if (manifest.Contents is { } contents && contents != whole.Digest())
        {
            problems.Add($"{ChecksumList.FileName} was changed: it is not the list that {CrateManifest.FileName} speaks of");
        }

        if (sumsDigest is not null && sumsDigest != ChecksumList.Digest(text))
        {
            problems.Add($"{ChecksumList.FileName} is not the list that was noted when the crate was sealed");
        }

        return sums;
    }

    private static Dictionary<string, FileStamp> Present(StoragePath crate, ConcurrentBag<string> problems)
    {
        var present = new Dictionary<string, FileStamp>(StringComparer.Ordinal);
        try
        {
            foreach ((string path, FileStamp stamp) in crate.Everything())
            {
                present[path] = stamp;
            }

            foreach (string folder in EmptyFolders.In(crate))
            {
                problems.Add($"{folder} is an empty folder that was added");
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            problems.Add($"a folder of the crate {StorageException.ReasonOf(e)}");
        }

        return present;
    }

    private static string? Problem(
        StoragePath crate,
        string path,
        string sum,
        byte[]? content,
        Dictionary<string, FileStamp> present,
        ref long bytes,
        CancellationToken cancel
    )
    {
        if (!present.TryGetValue(path, out FileStamp stamp))
        {
            return $"{path} is missing";
        }

        if (stamp.Kind != FileKind.Regular)
        {
            return $"{path} is {Word(stamp.Kind)}, and a crate has none";
        }

        try
        {
            using StorageFile file = crate.At(path).OpenItself();
            using FileStream stream = file.ToStream();
            Interlocked.Add(ref bytes, file.Length);
            cancel.ThrowIfCancellationRequested();
            bool isSame = content is null
                ? Convert.ToHexStringLower(SHA256.HashData(stream)) == sum
                : Hash(stream).AsSpan().SequenceEqual(content);
            return isSame ? null : $"{path} was changed";
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return $"{path} {StorageException.ReasonOf(e)}";
        }
    }

    private static byte[] Hash(Stream stream)
    {
        var hash = new XxHash128();
        hash.Append(stream);
        return hash.GetCurrentHash();
    }

    private static string Word(FileKind kind) => kind == FileKind.Link ? "a link" : "no regular file";
}
