using System.Collections.Immutable;
using System.Globalization;
using System.Security.Cryptography;

namespace DuneCrate.Core.Crates;

/// <summary>What reading a crate back showed.</summary>
/// <param name="Manifest">Its manifest.</param>
/// <param name="Files">Files that were checked.</param>
/// <param name="Bytes">Bytes that were read.</param>
/// <param name="Problems">What is changed, missing or added, one line each; empty for a whole crate.</param>
public sealed record CrateProof(CrateManifest Manifest, int Files, long Bytes, ImmutableArray<string> Problems)
{
    /// <summary>Whether everything is as it was sealed.</summary>
    public bool IsWhole => Problems.IsEmpty;
}

/// <summary>Reads crates back against their manifest and checksums.</summary>
public static class CrateVerifier
{
    /// <summary>Name of the list of checksums.</summary>
    public const string SumsFile = "SHA256SUMS";

    /// <summary>Reads a crate back.</summary>
    /// <exception cref="FormatException">The folder is no crate: it has no valid crate.json or no readable list of checksums.</exception>
    public static CrateProof Verify(string crate, CancellationToken cancel = default) => Verify(crate, Path.GetFileName(Path.TrimEndingDirectorySeparator(Path.GetFullPath(crate))), null, cancel);

    internal static CrateProof Verify(string crate, string name, Action<int, int>? progress, CancellationToken cancel)
    {
        CrateManifest manifest = Manifest(crate);
        Dictionary<string, string> sums = Sums(Path.Combine(crate, SumsFile));
        var problems = new List<string>();
        if (manifest.Name != name)
        {
            problems.Add($"the folder is called {name}, the crate {manifest.Name}");
        }

        var present = Directory.EnumerateFiles(crate, "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = FileAttributes.None })
            .Select(f => Path.GetRelativePath(crate, f).Replace('\\', '/')).Where(f => f != SumsFile).ToHashSet(StringComparer.Ordinal);
        problems.AddRange(present.Where(f => !sums.ContainsKey(f)).Order(StringComparer.Ordinal).Select(f => $"{f} was added"));
        foreach (string needed in (string[])["crate.json", "slip.html"])
        {
            if (!sums.ContainsKey(needed))
            {
                problems.Add($"{needed} has no checksum");
            }
        }

        long bytes = 0;
        int done = 0;
        object gate = new();
        Parallel.ForEach(sums, new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount, CancellationToken = cancel }, entry =>
        {
            string? problem = !present.Contains(entry.Key) ? $"{entry.Key} is missing" : null;
            long length = 0;
            if (problem is null)
            {
                using FileStream stream = File.OpenRead(Path.Combine(crate, entry.Key));
                length = stream.Length;
                problem = Convert.ToHexStringLower(SHA256.HashData(stream)) == entry.Value ? null : $"{entry.Key} was changed";
            }

            lock (gate)
            {
                bytes += length;
                progress?.Invoke(++done, sums.Count);
                if (problem is not null)
                {
                    problems.Add(problem);
                }
            }
        });
        foreach (CratePass pass in manifest.Passes)
        {
            var name2 = NameIn(pass.Files);
            problems.AddRange(pass.Frames.Select(f => name2.At(f)).Where(f => !sums.ContainsKey(f)).Take(1).Select(f => $"{f} is in the manifest and has no checksum"));
        }

        return new CrateProof(manifest, sums.Count, bytes, [.. problems.Distinct().Order(StringComparer.Ordinal)]);
    }

    private static Naming.FrameName NameIn(string files)
    {
        int first = files.IndexOf('#'), count = files.Count(c => c == '#');
        return first < 0 ? new Naming.FrameName(files, "", 0) : new Naming.FrameName(files[..first], files[(first + count)..], count);
    }

    private static CrateManifest Manifest(string crate)
    {
        string path = Path.Combine(crate, "crate.json");
        return File.Exists(path) ? CrateManifest.Read(File.ReadAllText(path)) : throw new FormatException($"{crate} is no crate: it has no crate.json.");
    }

    private static Dictionary<string, string> Sums(string path)
    {
        var sums = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (string line in File.Exists(path) ? File.ReadLines(path) : throw new FormatException($"There is no {SumsFile} beside crate.json."))
        {
            string file = line.Length > 66 ? line[66..] : "";
            if (file.Length == 0 || line[64] != ' ' || file.StartsWith('/') || file.Split('/').Contains("..") || !sums.TryAdd(file, line[..64].ToLower(CultureInfo.InvariantCulture)))
            {
                throw new FormatException($"{SumsFile} has a line that is no checksum of a file in the crate: '{line[..Math.Min(line.Length, 80)]}'.");
            }
        }

        return sums;
    }
}
