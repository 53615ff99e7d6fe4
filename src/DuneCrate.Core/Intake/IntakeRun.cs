using System.Collections.Immutable;
using DuneCrate.Core.Images;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Rebuild;
using DuneCrate.Core.Storage;

namespace DuneCrate.Core.Intake;

/// <summary>
/// Takes a folder in: lists it, finds sequences, reads facts on all cores. Stopping loses nothing that the cache was told.
/// </summary>
public sealed class IntakeRun(IFactsCache cache, ReadLimits limits)
{
    /// <summary>A file that changed this recently and looks incomplete is looked at again before it is judged.</summary>
    public static readonly TimeSpan Settling = TimeSpan.FromSeconds(2);

    private readonly int _workers = Environment.ProcessorCount;

    /// <summary>Whether files are told apart by their content, which reads every byte, instead of by size and time.</summary>
    public bool ByContent { get; init; }

    /// <summary>Reads a folder.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    /// <exception cref="OperationCanceledException">The run was stopped.</exception>
    public IntakeResult Run(StoragePath folder, Plan? plan, FactsDepth depth, IProgress<IntakeProgress>? progress, CancellationToken cancel)
    {
        ImmutableArray<IntakeFile> files = FolderListing.Read(folder, cancel);
        string[] paths = [.. files.Select(f => f.Path)];
        var naming = Task.Run(() => SequenceFinder.Find(paths), cancel);
        bool sums = plan is not null && depth == FactsDepth.Pixels;
        Dictionary<string, RebuildRecipe> recipes = sums ? RecipesByPath(plan!, naming.GetAwaiter().GetResult()) : [];
        var request = new FactsRequest(depth) { Catalogue = plan?.Catalogue ?? PassCatalogue.Shipped };
        var facts = new FileFacts[files.Length];
        var told = new Progress(
            progress,
            files.Length + (sums ? SplitRebuild.Count(plan!, paths.ToHashSet()) : 0),
            files.Sum(f => f.Bytes)
        );
        var side = new ParallelOptions { MaxDegreeOfParallelism = _workers, CancellationToken = cancel };
        if (ByContent)
        {
            var hashed = files.ToArray();
            Parallel.For(0, files.Length, side, i => hashed[i] = files[i].Hashed(cancel));
            files = [.. hashed];
        }

        IReadOnlyDictionary<string, FileFacts> known = cache.FindAll(
            files,
            request,
            f => request with { Rebuild = recipes.GetValueOrDefault(f.Path) }
        );
        Parallel.For(
            0,
            files.Length,
            side,
            i =>
            {
                facts[i] = known.TryGetValue(files[i].FullPath, out FileFacts? same)
                    ? same.Path == files[i].Path
                        ? same
                        : same with
                        {
                            Path = files[i].Path,
                        }
                    : FactsReader.Read(
                        files[i],
                        request with
                        {
                            Rebuild = recipes.GetValueOrDefault(files[i].Path),
                        },
                        cache,
                        limits,
                        cancel
                    );
                told.Done(files[i].Path, files[i].Bytes);
            }
        );
        LookAgain(files, facts, request, recipes, cancel);
        var byPath = facts.ToImmutableDictionary(f => f.Path);
        var rebuilds = ImmutableDictionary<(string, int), RebuildFacts>.Empty;
        if (sums)
        {
            var split = new SplitRebuild(folder, plan!, byPath, cache, limits);
            rebuilds = split.Run(split.Jobs(), _workers, path => told.Done(path, 0), cancel);
        }

        return new IntakeResult(folder, depth, DateTime.UtcNow, naming.GetAwaiter().GetResult(), byPath, rebuilds);
    }

    /// <summary>
    /// Files that looked incomplete and had just changed get until <see cref="Settling"/> after their last change, and are read
    /// once more: what has grown since is judged as it is now, what has held still is damaged indeed.
    /// </summary>
    private void LookAgain(
        ImmutableArray<IntakeFile> files,
        FileFacts[] facts,
        FactsRequest request,
        Dictionary<string, RebuildRecipe> recipes,
        CancellationToken cancel
    )
    {
        int[] fresh =
        [
            .. Enumerable
                .Range(0, files.Length)
                .Where(i => IsIncomplete(facts[i].Trouble) && DateTime.UtcNow - files[i].Modified < Settling),
        ];
        if (fresh.Length == 0)
        {
            return;
        }

        TimeSpan wait = fresh.Max(i => files[i].Modified) + Settling - DateTime.UtcNow;
        if (wait > TimeSpan.Zero && wait <= Settling)
        {
            cancel.WaitHandle.WaitOne(wait);
            cancel.ThrowIfCancellationRequested();
        }

        foreach (int i in fresh)
        {
            if (
                FolderListing.OfFile(files[i].Place, files[i].Path) is { } now
                && (now.Bytes != files[i].Bytes || now.Modified != files[i].Modified || facts[i].Trouble == ImageProblem.Changing)
            )
            {
                facts[i] = FactsReader.Read(now, request with { Rebuild = recipes.GetValueOrDefault(now.Path) }, cache, limits, cancel);
            }
        }
    }

    private static bool IsIncomplete(ImageProblem trouble) =>
        trouble is ImageProblem.Truncated or ImageProblem.Unreadable or ImageProblem.Changing or ImageProblem.NotRead;

    private static Dictionary<string, RebuildRecipe> RecipesByPath(Plan plan, ImmutableArray<FileSequence> sequences)
    {
        var byName = PlannedOutput
            .From(plan)
            .Where(o => o.HasBeauty)
            .Select(o => (o.Name, Recipe: RebuildRecipe.From(o.Layer)))
            .Where(o => o.Recipe is not null)
            .DistinctBy(o => (o.Name.Prefix, o.Name.Suffix))
            .ToDictionary(o => (o.Name.Prefix, o.Name.Suffix), o => o.Recipe!);
        return sequences
            .Where(s => byName.ContainsKey((s.Name.Prefix, s.Name.Suffix)))
            .SelectMany(s => s.Files.Select(f => (f.Path, Recipe: byName[(s.Name.Prefix, s.Name.Suffix)])))
            .ToDictionary(f => f.Path, f => f.Recipe);
    }

    /// <summary>Counts what is done, from any thread.</summary>
    private sealed class Progress(IProgress<IntakeProgress>? told, int of, long ofBytes)
    {
        private int _done;
        private long _bytes;

        public void Done(string path, long bytes) =>
            told?.Report(new IntakeProgress(Interlocked.Increment(ref _done), of, Interlocked.Add(ref _bytes, bytes), ofBytes, path));
    }
}
