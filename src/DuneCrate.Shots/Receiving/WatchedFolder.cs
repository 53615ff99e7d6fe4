using DuneCrate.Foundation.Storage;

namespace DuneCrate.Shots.Receiving;

/// <summary>A folder that is watched, with what was last seen in it. Safe to use from any thread; one at a time looks.</summary>
internal sealed class WatchedFolder(StoragePath folder, TimeProvider clock) : IDisposable
{
    private readonly Lock _lock = new();
    private FileSystemWatcher? _watcher;
    private ArrivalView? _view;
    private long _touched = clock.GetTimestamp();
    private int _noticed,
        _looking;
    private bool _isDisposed;

    /// <summary>The folder.</summary>
    public StoragePath Folder => folder;

    /// <summary>What was last seen; null before the first look.</summary>
    public ArrivalView? View
    {
        get => Volatile.Read(ref _view);
        set => Volatile.Write(ref _view, value);
    }

    /// <summary>Revision of the plan that first frames were held against.</summary>
    public int Revision { get; set; } = -1;

    /// <summary>Whether the caller may look now; only one does at a time, until <see cref="End"/>.</summary>
    public bool TryBegin() => Interlocked.Exchange(ref _looking, 1) == 0;

    /// <summary>Ends a look.</summary>
    public void End() => Volatile.Write(ref _looking, 0);

    /// <summary>Whether something has changed since this was last asked.</summary>
    public bool TakeNotice() => Interlocked.Exchange(ref _noticed, 0) == 1;

    /// <summary>Notes that something has changed.</summary>
    public void Notice() => Interlocked.Exchange(ref _noticed, 1);

    /// <summary>Notes that somebody is interested.</summary>
    public void Touch() => Interlocked.Exchange(ref _touched, clock.GetTimestamp());

    /// <summary>Whether nobody has been interested for so long.</summary>
    public bool IsIdleFor(TimeSpan time) => clock.GetElapsedTime(Interlocked.Read(ref _touched)) > time;

    /// <summary>Ends this watch and begins one on another folder.</summary>
    public WatchedFolder Successor(StoragePath next)
    {
        Dispose();
        return new WatchedFolder(next, clock);
    }

    /// <summary>Begins to listen for change notices, where they are to be had.</summary>
    public void Listen()
    {
        lock (_lock)
        {
            if (_watcher is not null || _isDisposed || !folder.IsFolder)
            {
                return;
            }

            try
            {
                _watcher = new FileSystemWatcher(folder.FullPath) { IncludeSubdirectories = true };
                _watcher.Created += Note;
                _watcher.Changed += Note;
                _watcher.Renamed += Note;
                _watcher.Deleted += Note;
                _watcher.EnableRaisingEvents = true;
            }
            catch (Exception e) when (e is IOException or ArgumentException)
            {
                // No notices to be had: looking every few seconds does.
                _watcher?.Dispose();
                _watcher = null;
            }
        }
    }

    private void Note(object sender, FileSystemEventArgs e) => Notice();

    /// <summary>Ends the watch.</summary>
    public void Dispose()
    {
        lock (_lock)
        {
            _isDisposed = true;
            _watcher?.Dispose();
            _watcher = null;
        }
    }
}
