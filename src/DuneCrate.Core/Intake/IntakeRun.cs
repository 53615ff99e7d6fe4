using System.Collections.Immutable;
using System.IO.Hashing;
using DuneCrate.Core.Images;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning;
using DuneCrate.Core.Stacking;

namespace DuneCrate.Core.Intake;

/// <summary>One reading of a folder at a moment: the sequences found and a fact record per file.</summary>
/// <param name="Folder">The folder.</param>
/// <param name="Depth">How much was read.</param>
/// <param name="Taken">When, UTC.</param>
/// <param name="Sequences">Sequences and stills, by name.</param>
/// <param name="Facts">Facts by relative path.</param>
/// <param name="Rebuilds">Rebuilds of layers whose passes lie in several files, by layer and frame.</param>
public sealed record Intake(
    string Folder, FactsDepth Depth, DateTime Taken, ImmutableArray<FileSequence> Sequences,
    ImmutableDictionary<string, FileFacts> Facts, ImmutableDictionary<(string Layer, int Frame), RebuildFacts> Rebuilds);

/// <summary>How far an intake is.</summary>
/// <param name="Files">Files done.</param>
/// <param name="OfFiles">All files.</param>
/// <param name="Bytes">Bytes of the files done.</param>
/// <param name="OfBytes">Bytes of all files.</param>
/// <param name="Current">The file last finished.</param>
public readonly record struct IntakeProgress(int Files, int OfFiles, long Bytes, long OfBytes, string Current);

/// <summary>Takes a folder in: lists it, finds sequences, reads facts on all cores. Stopping loses nothing that the cache was told.</summary>
public sealed class IntakeRun(IFactsCache cache, ReadLimits? limits = null)
{
    /// <summary>A file that changed this recently and looks incomplete is looked at again before it is judged.</summary>
    public static readonly TimeSpan Settling = TimeSpan.FromSeconds(2);

    private readonly int _workers = Environment.ProcessorCount;

    /// <summary>Whether files are told apart by their content, which reads every byte, instead of by size and time.</summary>
    public bool ByContent { get; init; }

    /// <summary>Reads a folder.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    /// <exception cref="OperationCanceledException">The run was stopped.</exception>
    public Intake Run(string folder, Plan? plan, FactsDepth depth, IProgress<IntakeProgress>? progress = null, CancellationToken cancel = default)
    {
        ImmutableArray<IntakeFile> files = FolderListing.Of(folder);
        string[] paths = [.. files.Select(f => f.Path)];
        var naming = Task.Run(() => SequenceFinder.Find(paths), cancel);
        Dictionary<string, RebuildRecipe> recipes = plan is null || depth == FactsDepth.Header ? [] : RecipesByPath(plan, naming.GetAwaiter().GetResult());
        var request = new FactsRequest(depth) { Catalogue = plan?.Catalogue ?? PassCatalogue.Shipped };
        var facts = new FileFacts[files.Length];
        long bytes = 0, total = files.Sum(f => f.Bytes);
        int done = 0;
        if (ByContent)
        {
            var hashed = files.ToArray();
            Parallel.For(0, files.Length, new ParallelOptions { MaxDegreeOfParallelism = _workers, CancellationToken = cancel }, i => hashed[i] = files[i] with { Content = ContentOf(files[i]) });
            files = [.. hashed];
        }

        IReadOnlyDictionary<string, FileFacts> known = cache.FindAll(files, request, f => request with { Rebuild = recipes.GetValueOrDefault(f.Path) });
        Parallel.For(0, files.Length, new ParallelOptions { MaxDegreeOfParallelism = _workers, CancellationToken = cancel }, i =>
        {
            facts[i] = known.TryGetValue(files[i].FullPath, out FileFacts? same) ? same.Path == files[i].Path ? same : same with { Path = files[i].Path } : Read(files[i], request with { Rebuild = recipes.GetValueOrDefault(files[i].Path) }, cancel);
            progress?.Report(new IntakeProgress(Interlocked.Increment(ref done), files.Length, Interlocked.Add(ref bytes, files[i].Bytes), total, files[i].Path));
        });
        LookAgain(files, facts, request, recipes, cancel);
        var byPath = facts.ToImmutableDictionary(f => f.Path);
        return new Intake(folder, depth, DateTime.UtcNow, naming.GetAwaiter().GetResult(), byPath, plan is null || depth == FactsDepth.Header
            ? ImmutableDictionary<(string, int), RebuildFacts>.Empty
            : new SplitRebuild(folder, plan, byPath).Run(_workers, cancel));
    }

    private FileFacts Read(IntakeFile file, FactsRequest request, CancellationToken cancel)
    {
        FileFacts facts = FactsReader.Read(file, request, limits, cancel);
        if (facts.Trouble is not (ImageProblem.Tiny or ImageProblem.Unreadable))
        {
            cache.Keep(file, request, facts);
        }

        return facts;
    }

    private static ImmutableArray<byte> ContentOf(IntakeFile file)
    {
        try
        {
            using FileStream stream = File.OpenRead(file.FullPath);
            var hash = new XxHash128();
            hash.Append(stream);
            return [.. hash.GetCurrentHash()];
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return [];
        }
    }

    /// <summary>
    /// Files that looked incomplete and had just changed get until <see cref="Settling"/> after their last change, and are read
    /// once more: what has grown since is judged as it is now, what has held still is damaged indeed.
    /// </summary>
    private void LookAgain(ImmutableArray<IntakeFile> files, FileFacts[] facts, FactsRequest request, Dictionary<string, RebuildRecipe> recipes, CancellationToken cancel)
    {
        int[] fresh = [.. Enumerable.Range(0, files.Length).Where(i => facts[i].Trouble is ImageProblem.Truncated or ImageProblem.Unreadable && DateTime.UtcNow - files[i].Modified < Settling)];
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

        foreach (int i in fresh.Where(i => File.Exists(files[i].FullPath)))
        {
            IntakeFile now = FolderListing.OfFile(files[i].FullPath) with { Path = files[i].Path };
            if (now.Bytes != files[i].Bytes || now.Modified != files[i].Modified)
            {
                facts[i] = Read(now, request with { Rebuild = recipes.GetValueOrDefault(now.Path) }, cancel);
            }
        }
    }

    private static Dictionary<string, RebuildRecipe> RecipesByPath(Plan plan, ImmutableArray<FileSequence> sequences)
    {
        var byName = PlannedOutput.Of(plan).Where(o => o.HasBeauty)
            .Select(o => (o.Name, Recipe: RebuildRecipe.Of(o.Layer))).Where(o => o.Recipe is not null)
            .ToDictionary(o => (o.Name.Prefix, o.Name.Suffix), o => o.Recipe!);
        return sequences.Where(s => byName.ContainsKey((s.Name.Prefix, s.Name.Suffix)))
            .SelectMany(s => s.Files.Select(f => (f.Path, Recipe: byName[(s.Name.Prefix, s.Name.Suffix)])))
            .ToDictionary(f => f.Path, f => f.Recipe);
    }
}
