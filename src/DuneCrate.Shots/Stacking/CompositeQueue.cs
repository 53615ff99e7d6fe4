using System.Collections.Concurrent;
using System.Globalization;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;

namespace DuneCrate.Shots.Stacking;

/// <summary>
/// Writes composites as OpenEXR or PNG into the data folder, one range after the other. A folder appears under its name once all of it is
/// there; what a stop or an end of the application left is thrown away.
/// </summary>
public sealed class CompositeQueue : JobQueue
{
    private const string Unfinished = ".part",
        ProblemsFile = "left_out.txt",
        RecipeFile = "stack.json";

    private readonly StorageRoot _composites;
    private readonly StackSources _sources;
    private readonly ReadLimits _limits;
    private readonly ConcurrentDictionary<int, string> _failures = [];

    /// <summary>Writes below the data folder.</summary>
    public CompositeQueue(DataFolder data, StackSources sources, ReadLimits limits, RunningComposites live, ILogger<CompositeQueue> log)
        : base(live, log)
    {
        (_sources, _limits) = (sources, limits);
        _composites = StorageRoot.At(Directory.CreateDirectory(data.At("composites")).FullName);
    }

    /// <summary>Writes the range of a stack, unless the same waits already.</summary>
    /// <param name="view">The shot.</param>
    /// <param name="stack">The stack as it is now.</param>
    /// <param name="isPng">PNG as it is seen, else OpenEXR of float samples.</param>
    public Task<int> WriteAsync(ShotView view, KeptStack stack, bool isPng) =>
        AskAsync(
            string.Create(CultureInfo.InvariantCulture, $"{stack.Id} {stack.Revision} {isPng}"),
            () => Task.FromResult(stack.Id),
            $"write the composite {stack.Name} of {view.Row.Code}",
            (_, progress, stop) => Task.Run(() => Write(view, stack, isPng, progress, stop), CancellationToken.None)
        );

    /// <summary>The name of a stack as files can have it.</summary>
    public static string PlainName(KeptStack stack) => string.Concat(stack.Name.Select(c => char.IsAsciiLetterOrDigit(c) ? c : '_'));

    /// <summary>What was written of a shot, the newest first.</summary>
    public IReadOnlyList<WrittenComposite> Written(ShotView view)
    {
        StoragePath folder = FolderOf(view);
        if (!folder.IsFolder)
        {
            return [];
        }

        return
        [
            .. folder
                .Entries()
                .Where(e => e.Stamp.Kind == FileKind.Folder && !e.Name.EndsWith(Unfinished, StringComparison.Ordinal))
                .Select(e => (e.Name, Files: folder.At(e.Name).Entries().Where(f => f.Name is not (ProblemsFile or RecipeFile)).ToArray()))
                .Select(e => new WrittenComposite(
                    e.Name,
                    e.Files.Length,
                    e.Files.Sum(f => f.Stamp.Length),
                    folder.At($"{e.Name}/{ProblemsFile}") is { IsFile: true } told ? told.ReadText(1 << 20).Split('\n') : []
                ))
                .OrderByDescending(w => w.Name, StringComparer.Ordinal),
        ];
    }

    /// <summary>The folder of what was written; null when there is none of the name.</summary>
    public StoragePath? WrittenAt(ShotView view, string name) =>
        !name.EndsWith(Unfinished, StringComparison.Ordinal) && FolderOf(view).TryAt(name, out StoragePath? path, out _) && path.IsFolder
            ? path
            : null;

    /// <summary>Throws away what was written.</summary>
    public void Delete(ShotView view, string name)
    {
        if (WrittenAt(view, name) is { } folder)
        {
            DeleteTree(folder);
        }
    }

    /// <summary>Why the last writing of a stack came to nothing; null where it did not.</summary>
    public string? FailureOf(int stackId) => _failures.GetValueOrDefault(stackId);

    private static void DeleteTree(StoragePath folder)
    {
        if (folder.IsFolder)
        {
            Directory.Delete(folder.FullPath, recursive: true);
        }
    }

    /// <inheritdoc/>
    protected override Task TakeUpAsync(CancellationToken ending)
    {
        foreach (string left in Directory.EnumerateDirectories(_composites.FullPath, "*" + Unfinished, SearchOption.AllDirectories))
        {
            Directory.Delete(left, recursive: true);
        }

        return Task.CompletedTask;
    }

    /// <inheritdoc/>
    protected override Task FailAsync(int id, CancellationToken cancel)
    {
        _failures.TryAdd(id, "not written. Why is in the server's log");
        return Task.CompletedTask;
    }

    private StoragePath FolderOf(ShotView view) => _composites.Top.At($"{view.Row.Show.Code}/{view.Row.Code}");

    private void Write(ShotView view, KeptStack stack, bool isPng, JobProgress progress, CancellationToken stop)
    {
        StoragePath all = FolderOf(view);
        all.CreateFolder();
        string plain = PlainName(stack);
        int version = 1 + all.Entries().Count(e => e.Name.StartsWith(plain + "_v", StringComparison.Ordinal));
        while (all.At(NameOf(version)).IsThere)
        {
            version++;
        }

        string name = NameOf(version);
        StoragePath part = all.At(name + Unfinished);
        try
        {
            part.CreateFolder();
            WriteFrames(view, stack, part, new FrameName($"{view.Row.Code}_{plain}.", isPng ? ".png" : ".exr", 4), progress, stop);
            part.At(RecipeFile).ReplaceText(stack.Recipe.Write());
            part.MoveTo(all.At(name));
            _failures.TryRemove(stack.Id, out _);
        }
        catch (Exception e)
        {
            DeleteTree(part);
            _failures[stack.Id] =
                e is OperationCanceledException ? "stopped; nothing was kept" : $"not written: it {StorageException.ReasonOf(e)}";
            throw;
        }

        string NameOf(int number) => string.Create(CultureInfo.InvariantCulture, $"{plain}_v{number:000}");
    }

    private void WriteFrames(ShotView view, KeptStack stack, StoragePath to, FrameName name, JobProgress progress, CancellationToken stop)
    {
        StackRecipe recipe = stack.Recipe;
        var compositor = new StackCompositor(recipe, strip => _sources.FolderOf(view, strip), _limits);
        int[] frames = [.. recipe.Frames ?? view.Plan.Shot.Frames];
        progress.Doing = stack.Name;
        progress.Set(0, frames.Length);
        var problems = StackWriter.Write(
            recipe,
            compositor,
            frames,
            f => to.At(name.At(f)),
            done => progress.Set(done, frames.Length),
            stop
        );
        if (problems.Count > 0)
        {
            to.At(ProblemsFile).ReplaceText(string.Join('\n', problems));
        }
    }
}
