using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Checking.Comparing;

/// <summary>Compares two folders: files stand for each other by sequence and frame, however many digits the number has.</summary>
public static class FolderComparison
{
    /// <summary>Compares all pictures of two folders, as many at once as there are cores.</summary>
    /// <param name="a">The one folder.</param>
    /// <param name="b">The other.</param>
    /// <param name="tolerance">What counts as equal.</param>
    /// <param name="limits">Bounds on what files may claim.</param>
    /// <param name="cancel">Stops.</param>
    public static ComparisonDocument Compare(StoragePath a, StoragePath b, double tolerance, ReadLimits limits, CancellationToken cancel)
    {
        Dictionary<(string, string, int), IntakeFile> inA = Files(a, cancel),
            inB = Files(b, cancel);
        var pairs = inA.Where(f => inB.ContainsKey(f.Key))
            .Select(f => (A: f.Value, B: inB[f.Key]))
            .OrderBy(p => p.A.Path, StringComparer.Ordinal)
            .ToArray();
        var found = new FileDifference[pairs.Length];
        Parallel.For(
            0,
            pairs.Length,
            new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount, CancellationToken = cancel },
            i => found[i] = FileComparison.Compare(pairs[i].A, pairs[i].B, tolerance, limits, cancel)
        );
        string[] onlyA = Paths(inA, inB),
            onlyB = Paths(inB, inA);
        return new ComparisonDocument(
            tolerance,
            onlyA.Length + onlyB.Length == 0 && found.All(f => f.Equal),
            [.. onlyA],
            [.. onlyB],
            [.. found]
        );
    }

    private static string[] Paths(
        Dictionary<(string, string, int), IntakeFile> of,
        Dictionary<(string, string, int), IntakeFile> without
    ) => [.. of.Where(f => !without.ContainsKey(f.Key)).Select(f => f.Value.Path).Order(StringComparer.Ordinal)];

    private static Dictionary<(string, string, int), IntakeFile> Files(StoragePath folder, CancellationToken cancel)
    {
        var files = FolderListing.Read(folder, cancel).Files.ToDictionary(f => f.Path);
        var found = new Dictionary<(string, string, int), IntakeFile>();
        foreach (FileSequence sequence in SequenceFinder.Find(files.Keys))
        {
            foreach (SequenceFile file in sequence.Files)
            {
                // The same frame twice, with other padding: the second stands for itself.
                var key = (sequence.Name.Prefix, sequence.Name.Suffix, file.Frame);
                found[found.ContainsKey(key) ? (file.Path, "", 0) : key] = files[file.Path];
            }
        }

        return found;
    }
}
