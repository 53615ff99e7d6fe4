using System.Buffers.Binary;
using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Data.Common;
using System.Text.Json;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Storage;
using Microsoft.Extensions.Caching.Memory;
using Microsoft.Extensions.Logging;

namespace DuneCrate.Store;

/// <summary>
/// The facts cache in the database. Header facts that are alike are stored once; a file of its own costs its name and a few numbers. Facts
/// that are kept are written in batches; <see cref="Flush"/> writes the rest. Safe to call from several threads.
/// </summary>
public sealed partial class FactsStore(IDbContextFactory<DuneCrateContext> contexts, TimeProvider clock, ILogger<FactsStore> log)
    : IFactsCache,
        IDisposable
{
    /// <summary>Raised when the form or the meaning of facts changes, so that old ones are not believed.</summary>
    private const string Form = "8";

    private const int Batch = 512,
        MostWaiting = 16 * Batch,
        MostShapes = 20_000;

    private static readonly MemoryCacheEntryOptions One = new() { Size = 1 };

    private static readonly Dictionary<int, Dictionary<string, FactsRow>> NoRows = [];

    private readonly ConcurrentQueue<(IntakeFile File, FactsRequest Request, FileFacts Facts)> _waiting = new();
    private readonly MemoryCache _shapes = new(new MemoryCacheOptions { SizeLimit = MostShapes });
    private readonly MemoryCache _shapeIds = new(new MemoryCacheOptions { SizeLimit = MostShapes });
    private readonly ConcurrentDictionary<string, int> _folders = new();
    private readonly ConcurrentQueue<(RebuildKey Key, RebuildFacts Facts)> _rebuilds = new();
    private readonly ConcurrentDictionary<int, int> _seen = new();
    private readonly ConcurrentQueue<int> _seenNow = new();
    private readonly Lock _writing = new();

    /// <inheritdoc/>
    public FileFacts? Find(IntakeFile file, FactsRequest request) =>
        FindAll([file], request, _ => request).GetValueOrDefault(file.FullPath);

    /// <inheritdoc/>
    public IReadOnlyDictionary<string, FileFacts> FindAll(
        IReadOnlyCollection<IntakeFile> files,
        FactsRequest request,
        Func<IntakeFile, FactsRequest> each
    ) => FindAll(files, request, each, NoRows);

    /// <inheritdoc/>
    public IKnownFacts BesideListing(StoragePath folder, FactsDepth depth) =>
        depth == FactsDepth.Header ? new RowsBesideListing(this, folder.FullPath) : this;

    private Dictionary<string, FileFacts> FindAll(
        IReadOnlyCollection<IntakeFile> files,
        FactsRequest request,
        Func<IntakeFile, FactsRequest> each,
        IReadOnlyDictionary<int, Dictionary<string, FactsRow>> read
    )
    {
        var found = new Dictionary<string, FileFacts>(files.Count);
        using DuneCrateContext context = contexts.CreateDbContext();
        foreach (IGrouping<string, IntakeFile> folder in files.GroupBy(f => FolderOf(f.FullPath)))
        {
            if (FolderId(context, folder.Key, make: false) is not { } id)
            {
                continue;
            }

            NoteSeen(id);

            bool wantsPixels = request.Depth == FactsDepth.Pixels;
            IntakeFile[] wanted = [.. folder];
            Dictionary<string, FactsRow> known =
                read.GetValueOrDefault(id) ?? Rows(context, id, wanted.Length == 1 ? NameOf(wanted[0].FullPath) : null, wantsPixels);
            foreach (IntakeFile file in wanted)
            {
                if (
                    known.TryGetValue(NameOf(file.FullPath), out FactsRow? row)
                    && IsUnchanged(file, row)
                    && Answer(context, file, row, each(file)) is { } facts
                )
                {
                    found[file.FullPath] = facts;
                }
            }
        }

        return found;
    }

    /// <summary>
    /// The rows of a folder, or one of them, by name: read without a model between, since a check of an unchanged folder does little else
    /// (<c>bench/run headers</c>).
    /// </summary>
    private static Dictionary<string, FactsRow> Rows(DuneCrateContext context, int folder, string? name, bool withPixels)
    {
        context.Database.OpenConnection();
        using DbCommand read = context.Database.GetDbConnection().CreateCommand();
        read.CommandText =
            $"SELECT Name, Bytes, Modified, ShapeId, RenderSeconds, Content{(withPixels ? ", Request, Pixels" : "")} "
            + $"FROM file_facts WHERE FolderId = $folder{(name is null ? "" : " AND Name = $name")}";
        foreach (
            (string parameter, object value) in new (string, object)[] { ("$folder", folder), ("$name", name ?? "") }.Take(
                name is null ? 1 : 2
            )
        )
        {
            DbParameter added = read.CreateParameter();
            (added.ParameterName, added.Value) = (parameter, value);
            read.Parameters.Add(added);
        }

        var rows = new Dictionary<string, FactsRow>();
        using DbDataReader reader = read.ExecuteReader();
        while (reader.Read())
        {
            string key = reader.GetString(0);
            rows[key] = new FactsRow
            {
                FolderId = folder,
                Name = key,
                Bytes = reader.GetInt64(1),
                Modified = reader.GetInt64(2),
                ShapeId = reader.GetInt32(3),
                RenderSeconds = reader.IsDBNull(4) ? null : reader.GetDouble(4),
                Content = reader.IsDBNull(5) ? null : (byte[])reader.GetValue(5),
                Request = !withPixels || reader.IsDBNull(6) ? null : reader.GetInt64(6),
                Pixels = !withPixels || reader.IsDBNull(7) ? null : (byte[])reader.GetValue(7),
            };
        }

        return rows;
    }

    /// <inheritdoc/>
    public RebuildFacts? FindRebuild(RebuildKey key)
    {
        using DuneCrateContext context = contexts.CreateDbContext();
        byte[] hash = HashOf(key);
        return context.Rebuilds.AsNoTracking().Where(r => r.Hash == hash).Select(r => r.Facts).FirstOrDefault() is { } facts
            ? JsonSerializer.Deserialize<RebuildFacts>(facts, FactsDocument.Compact)
            : null;
    }

    /// <inheritdoc/>
    public void KeepRebuild(RebuildKey key, RebuildFacts facts)
    {
        _rebuilds.Enqueue((key, facts));
        FlushWhenMany(_rebuilds.Count);
    }

    /// <summary>Forgets what is remembered of a folder that nobody asked for since a day, and headers that no file has any more.</summary>
    /// <param name="day">In days since 1970, UTC.</param>
    /// <param name="cancel">Stops.</param>
    /// <returns>Files forgotten.</returns>
    public async Task<int> ForgetAsync(int day, CancellationToken cancel)
    {
        Flush();
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        int[] old = await context.FactFolders.Where(f => f.Seen < day).Select(f => f.Id).ToArrayAsync(cancel);
        int files = 0;
        foreach (int[] some in old.Chunk(Batch))
        {
            await using var transaction = await context.Database.BeginTransactionAsync(cancel);
            files += await context.Facts.Where(f => some.Contains(f.FolderId)).ExecuteDeleteAsync(cancel);
            await context.Rebuilds.Where(r => some.Contains(r.FolderId)).ExecuteDeleteAsync(cancel);
            await context.FactFolders.Where(f => some.Contains(f.Id)).ExecuteDeleteAsync(cancel);
            await transaction.CommitAsync(cancel);
        }

        if (old.Length > 0)
        {
            _folders.Clear();
            lock (_writing)
            {
                context.FactShapes.Where(s => !context.Facts.Any(f => f.ShapeId == s.Id)).ExecuteDelete();
                _shapes.Clear();
                _shapeIds.Clear();
            }
        }

        return files;
    }

    /// <summary>Notes that somebody asked for facts of a folder today; written with the next batch.</summary>
    private void NoteSeen(int folder)
    {
        int today = Today;
        if (_seen.TryGetValue(folder, out int day) && day == today)
        {
            return;
        }

        _seen[folder] = today;
        _seenNow.Enqueue(folder);
    }

    private int Today => (int)(clock.UtcNow - DateTime.UnixEpoch).TotalDays;

    private static byte[] HashOf(RebuildKey key)
    {
        byte[] hash = new byte[ContentHash.Bytes];
        BinaryPrimitives.WriteUInt128BigEndian(hash, key.Hash);
        return hash;
    }

    /// <inheritdoc/>
    public void Keep(IntakeFile file, FactsRequest request, FileFacts facts)
    {
        if (facts.IsTransient)
        {
            return;
        }

        _waiting.Enqueue((file, request, facts));
        FlushWhenMany(_waiting.Count);
    }

    /// <summary>
    /// Writes a batch. A disk that has no room now must not end the reading: what waits is tried again with the next batch, and the oldest
    /// of very many is given up.
    /// </summary>
    private void FlushWhenMany(int count)
    {
        if (count < Batch)
        {
            return;
        }

        try
        {
            Flush();
        }
        catch (Exception e) when (StoreFile.IsDisk(e))
        {
            while (_waiting.Count > MostWaiting && _waiting.TryDequeue(out _)) { }

            while (_rebuilds.Count > MostWaiting && _rebuilds.TryDequeue(out _)) { }
        }
    }

    /// <summary>
    /// Writes everything that waits. What could not be written because the disk refused waits for the next time; what cannot be kept at all
    /// is set aside, named in the log and read anew whenever it is asked for, and holds up nothing else.
    /// </summary>
    public void Flush()
    {
        lock (_writing)
        {
            var waiting = new Dictionary<string, (IntakeFile File, FactsRequest Request, FileFacts Facts)>();
            while (_waiting.TryDequeue(out var one))
            {
                waiting[one.File.FullPath] = one;
            }

            var rebuilds = new List<(RebuildKey Key, RebuildFacts Facts)>();
            while (_rebuilds.TryDequeue(out var one))
            {
                rebuilds.Add(one);
            }

            var seen = new HashSet<int>();
            while (_seenNow.TryDequeue(out int folder))
            {
                seen.Add(folder);
            }

            if (waiting.Count + rebuilds.Count + seen.Count == 0)
            {
                return;
            }

            try
            {
                InBatch([.. waiting.Values], Write, w => w.File.FullPath);
                InBatch(rebuilds, Write, r => $"the sum at {r.Key.Lead.FullPath}");
                WriteSeen(seen);
            }
            catch
            {
                foreach (var one in waiting.Values)
                {
                    _waiting.Enqueue(one);
                }

                rebuilds.ForEach(_rebuilds.Enqueue);
                foreach (int folder in seen)
                {
                    _seenNow.Enqueue(folder);
                }

                throw;
            }
        }
    }

    /// <summary>Writes a batch in one go or, where something in it cannot be kept, each of it by itself.</summary>
    private void InBatch<T>(IReadOnlyList<T> batch, Action<IReadOnlyList<T>> write, Func<T, string> nameOf)
    {
        try
        {
            write(batch);
        }
        catch (Exception e) when (batch.Count > 1 && !StoreFile.IsDisk(e))
        {
            foreach (T one in batch)
            {
                InBatch([one], write, nameOf);
            }
        }
        catch (Exception e) when (!StoreFile.IsDisk(e))
        {
            log.LogError(e, "What was found of {File} cannot be kept; it is read anew whenever it is asked for", nameOf(batch[0]));
        }
    }

    private void Write(IReadOnlyList<(IntakeFile File, FactsRequest Request, FileFacts Facts)> files)
    {
        using DuneCrateContext context = contexts.CreateDbContext();
        FactsRowWriter.Write(
            context,
            [
                .. files
                    .GroupBy(w => FolderOf(w.File.FullPath))
                    .SelectMany(folder =>
                    {
                        int id = FolderId(context, folder.Key, make: true)!.Value;
                        return folder.Select(w => Row(context, id, w.File, w.Request, w.Facts));
                    }),
            ]
        );
    }

    private void Write(IReadOnlyList<(RebuildKey Key, RebuildFacts Facts)> rebuilds)
    {
        using DuneCrateContext context = contexts.CreateDbContext();

        // Before the transaction: a folder that is new is written by itself.
        var folders = rebuilds
            .Select(r => FolderOf(r.Key.Lead.FullPath))
            .Distinct()
            .ToDictionary(f => f, f => FolderId(context, f, make: true)!.Value);
        using IDbContextTransaction transaction = context.Database.BeginTransaction();
        foreach ((RebuildKey key, RebuildFacts facts) in rebuilds)
        {
            int folder = folders[FolderOf(key.Lead.FullPath)];
            string text = JsonSerializer.Serialize(facts, FactsDocument.Compact);
            context.Database.ExecuteSql(
                $"INSERT OR REPLACE INTO rebuild_facts (Hash, FolderId, Facts) VALUES ({HashOf(key)}, {folder}, {text})"
            );
        }

        transaction.Commit();
    }

    private void WriteSeen(HashSet<int> seen)
    {
        if (seen.Count > 0)
        {
            using DuneCrateContext context = contexts.CreateDbContext();
            int today = Today;
            context.FactFolders.Where(f => seen.Contains(f.Id)).ExecuteUpdate(f => f.SetProperty(x => x.Seen, today));
        }
    }
}
