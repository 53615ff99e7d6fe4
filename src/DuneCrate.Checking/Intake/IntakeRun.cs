using System.Collections.Immutable;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Threading;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// Takes a folder in: lists it, finds sequences, reads facts on all cores. Stopping loses nothing that the cache was told.
/// </summary>
public sealed class IntakeRun(IFactsCache cache, ReadLimits limits)
{
    /// <summary>A file that changed this recently and looks incomplete is looked at again before it is judged.</summary>
    public static readonly TimeSpan Settling = TimeSpan.FromSeconds(2);

    /// <summary>Whether files are told apart by their content, which reads every byte, instead of by size and time.</summary>
    public bool ByContent { get; init; }

    /// <summary>Who opens the files.</summary>
    public IFactsGatherer Gatherer { get; init; } = GatheringHere.Shared;

    /// <summary>The clock by which files are young.</summary>
    public TimeProvider Clock { get; init; } = TimeProvider.System;

    /// <summary>Reads a folder.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    /// <exception cref="OperationCanceledException">The run was stopped.</exception>
    public IntakeResult Run(StoragePath folder, Plan? plan, FactsDepth depth, IProgress<IntakeProgress>? progress, CancellationToken cancel)
    {
        IKnownFacts before = cache.BesideListing(folder, depth);
        FolderContents listed = FolderListing.Read(folder, cancel);
        ImmutableArray<IntakeFile> files = listed.Files;
        string[] paths = [.. files.Select(f => f.Path)];
        var naming = Task.Run(() => SequenceFinder.Find(paths), cancel);
        bool sums = plan is { Layers.IsEmpty: false } && depth == FactsDepth.Pixels;
        var request = new FactsRequest(depth) { Catalogue = plan?.Catalogue ?? PassCatalogue.Shipped };
        var asked =
            depth == FactsDepth.Header ? []
            : plan is { Layers.IsEmpty: false } ? AskedByPlan(plan, WorkThread.WaitFor(naming), request)
            : AskedByName(files, WorkThread.WaitFor(naming), request, cancel);
        FactsRequest Asked(IntakeFile file) => asked.GetValueOrDefault(file.Path) ?? request;
        var facts = new FileFacts[files.Length];
        var told = new Progress(
            progress,
            files.Length + (sums ? SplitRebuild.Count(plan!, paths.ToHashSet()) : 0),
            files.Sum(f => f.Bytes)
        );
        if (ByContent)
        {
            var hashed = files.ToArray();
            Parallel.For(0, files.Length, GatheringHere.Side(cancel), i => hashed[i] = files[i].Hashed(cancel));
            files = [.. hashed];
        }

        IReadOnlyDictionary<string, FileFacts> known = before.FindAll(files, request, Asked);
        void Got(int place, FileFacts read)
        {
            facts[place] = read;
            told.Done(files[place].Path, files[place].Bytes);
        }

        var wanted = ImmutableArray.CreateBuilder<int>();
        for (int i = 0; i < files.Length; i++)
        {
            if (known.TryGetValue(files[i].FullPath, out FileFacts? same))
            {
                Got(i, same.Path == files[i].Path ? same : same with { Path = files[i].Path });
            }
            else
            {
                wanted.Add(i);
            }
        }

        Gatherer.Gather(new FactsOrder(folder, depth, files, wanted.ToImmutable(), Asked, cache, limits), Got, cancel);
        LookAgain(files, facts, Asked, cancel);
        var byPath = facts.ToImmutableDictionary(f => f.Path);
        var rebuilds = ImmutableDictionary<(string, int), RebuildFacts>.Empty;
        if (sums)
        {
            var split = new SplitRebuild(folder, plan!, byPath, cache, limits);
            rebuilds = split.Run(Gatherer, path => told.Done(path, 0), cancel);
        }

        return new IntakeResult(folder, depth, Clock.UtcNow, WorkThread.WaitFor(naming), byPath, rebuilds)
        {
            Clutter = listed.Clutter,
            Closed = listed.Closed,
        };
    }

    /// <summary>
    /// Files that looked incomplete and had just changed get until <see cref="Settling"/> after their last change, and are read
    /// once more: what has grown since is judged as it is now, what has held still is damaged indeed.
    /// </summary>
    private void LookAgain(
        ImmutableArray<IntakeFile> files,
        FileFacts[] facts,
        Func<IntakeFile, FactsRequest> asked,
        CancellationToken cancel
    )
    {
        int[] fresh =
        [
            .. Enumerable.Range(0, files.Length).Where(i => IsIncomplete(facts[i].Trouble) && Clock.UtcNow - files[i].Modified < Settling),
        ];
        if (fresh.Length == 0)
        {
            return;
        }

        TimeSpan wait = fresh.Max(i => files[i].Modified) + Settling - Clock.UtcNow;
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
                facts[i] = FactsReader.Read(now, asked(now), cache, limits, cancel);
            }
        }
    }

    private static bool IsIncomplete(ImageProblem trouble) =>
        trouble is ImageProblem.Truncated or ImageProblem.Unreadable or ImageProblem.Changing or ImageProblem.NotRead;

    /// <summary>
    /// What is asked of files that an output of the plan claims: the sum in those with the beauty, the pass of those that hold one.
    /// </summary>
    private static Dictionary<string, FactsRequest> AskedByPlan(Plan plan, ImmutableArray<FileSequence> sequences, FactsRequest request)
    {
        var names = new OutputNames(PlannedOutput.From(plan));
        var requests = names.Outputs.ToDictionary(
            o => o,
            o => request with { Rebuild = o.HasBeauty ? RebuildRecipe.From(o.Layer) : null, Held = o.Held }
        );
        var asked = new Dictionary<string, FactsRequest>();
        foreach (FileSequence sequence in sequences)
        {
            PlannedOutput? whole = names.FindWhole(sequence);
            foreach (SequenceFile file in sequence.Files)
            {
                if ((whole ?? names.Find(file.Path)?.Output) is { } output)
                {
                    asked[file.Path] = requests[output];
                }
            }
        }

        return asked;
    }

    /// <summary>Without a plan: the pass that a sequence's name tells, where the channels of its first file that opens do not.</summary>
    private Dictionary<string, FactsRequest> AskedByName(
        ImmutableArray<IntakeFile> files,
        ImmutableArray<FileSequence> sequences,
        FactsRequest request,
        CancellationToken cancel
    )
    {
        var byPath = files.ToDictionary(f => f.Path);
        var header = new FactsRequest(FactsDepth.Header);
        var first = sequences
            .Select(s =>
                (
                    s.Name,
                    Facts: s.Files.Select(f => FactsReader.Read(byPath[f.Path], header, limits, cancel)).FirstOrDefault(f => f.Readable)
                )
            )
            .Where(s => s.Facts is not null)
            .Select(s => (s.Name, s.Facts!.Channels.Select(c => c.Name).ToImmutableArray()));
        ImmutableDictionary<FrameName, HeldPass> held = PassFromName.Guess([.. first], request.Catalogue);
        return sequences
            .Where(s => held.ContainsKey(s.Name))
            .SelectMany(s => s.Files.Select(f => (f.Path, Held: held[s.Name])))
            .ToDictionary(f => f.Path, f => request with { Held = f.Held });
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
