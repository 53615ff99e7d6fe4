using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.IO.Hashing;
using System.Text;
using System.Text.Json;
using DuneCrate.Core.Intake;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>
/// The facts cache in the database. Header facts that are alike are stored once; a file of its own costs its name and a few numbers. Facts that are kept
/// are written in batches; <see cref="Flush"/> writes the rest. Safe to call from several threads.
/// </summary>
public sealed class FactsStore(IDbContextFactory<DuneCrateContext> contexts) : IFactsCache
{
    /// <summary>Raised when the form or the meaning of facts changes, so that old ones are not believed.</summary>
    private const string Form = "3";

    private const int Batch = 512;

    private readonly ConcurrentQueue<(IntakeFile File, FactsRequest Request, FileFacts Facts)> _waiting = new();
    private readonly ConcurrentDictionary<int, FileFacts> _shapes = new();
    private readonly ConcurrentDictionary<string, int> _shapeIds = new();
    private readonly ConcurrentDictionary<string, int> _folders = new();
    private readonly Lock _writing = new();

    /// <inheritdoc/>
    public FileFacts? Find(IntakeFile file, FactsRequest request) => FindAll([file], request, _ => request).GetValueOrDefault(file.FullPath);

    /// <inheritdoc/>
    public IReadOnlyDictionary<string, FileFacts> FindAll(IReadOnlyCollection<IntakeFile> files, FactsRequest request, Func<IntakeFile, FactsRequest> each)
    {
        var found = new Dictionary<string, FileFacts>(files.Count);
        using DuneCrateContext context = contexts.CreateDbContext();
        foreach (IGrouping<string, IntakeFile> folder in files.GroupBy(f => FolderOf(f.FullPath)))
        {
            if (FolderId(context, folder.Key, make: false) is not { } id)
            {
                continue;
            }

            bool wantsPixels = request.Depth == FactsDepth.Pixels;
            IntakeFile[] wanted = [.. folder];
            IQueryable<FactsRow> rows = context.Facts.AsNoTracking().Where(f => f.FolderId == id);
            rows = wanted.Length == 1 ? rows.Where(f => f.Name == NameOf(wanted[0].FullPath)) : rows;
            var known = new Dictionary<string, FactsRow>(wanted.Length);
            foreach (FactsRow row in wantsPixels ? rows : rows.Select(f => new FactsRow { FolderId = f.FolderId, Name = f.Name, Bytes = f.Bytes, Modified = f.Modified, ShapeId = f.ShapeId, RenderSeconds = f.RenderSeconds, Content = f.Content }))
            {
                known[row.Name] = row;
            }

            foreach (IntakeFile file in wanted)
            {
                if (known.TryGetValue(NameOf(file.FullPath), out FactsRow? row) && IsUnchanged(file, row) && Answer(context, file, row, each(file)) is { } facts)
                {
                    found[file.FullPath] = facts;
                }
            }
        }

        return found;
    }

    /// <inheritdoc/>
    public void Keep(IntakeFile file, FactsRequest request, FileFacts facts)
    {
        _waiting.Enqueue((file, request, facts));
        if (_waiting.Count >= Batch)
        {
            Flush();
        }
    }

    /// <summary>Writes everything that waits.</summary>
    public void Flush()
    {
        lock (_writing)
        {
            var waiting = new Dictionary<string, (IntakeFile File, FactsRequest Request, FileFacts Facts)>();
            while (_waiting.TryDequeue(out var one))
            {
                waiting[one.File.FullPath] = one;
            }

            if (waiting.Count == 0)
            {
                return;
            }

            using DuneCrateContext context = contexts.CreateDbContext();
            context.ChangeTracker.AutoDetectChangesEnabled = false;
            foreach (var folder in waiting.Values.GroupBy(w => FolderOf(w.File.FullPath)))
            {
                int id = FolderId(context, folder.Key, make: true)!.Value;
                string[] names = [.. folder.Select(w => NameOf(w.File.FullPath))];
                var known = context.Facts.Where(f => f.FolderId == id && names.Contains(f.Name)).Select(f => f.Name).ToHashSet();
                FactsRow[] rows = [.. folder.Select(w => Row(context, id, w.File, w.Request, w.Facts))];
                context.Facts.UpdateRange(rows.Where(r => known.Contains(r.Name)));
                context.Facts.AddRange(rows.Where(r => !known.Contains(r.Name)));
            }

            context.SaveChanges();
        }
    }

    private static string FolderOf(string path) => Path.GetDirectoryName(path) ?? "/";

    private static string NameOf(string path) => Path.GetFileName(path);

    private static bool IsUnchanged(IntakeFile file, FactsRow row) =>
        row.Bytes == file.Bytes && (file.Content is { IsEmpty: false } content ? row.Content is not null && content.AsSpan().SequenceEqual(row.Content) : row.Modified == file.Modified.Ticks);

    private FileFacts? Answer(DuneCrateContext context, IntakeFile file, FactsRow row, FactsRequest request)
    {
        if (request.Depth == FactsDepth.Pixels)
        {
            return row.Pixels is not null && row.Request == Key(request) ? JsonSerializer.Deserialize<FileFacts>(PackedText.Unpack(row.Pixels), FactsDocument.Compact) : null;
        }

        if (Shape(context, row.ShapeId) is not { } shape)
        {
            return null;
        }

        ImmutableArray<PartFacts> parts = row.RenderSeconds is { } seconds && !shape.Parts.IsEmpty ? shape.Parts.SetItem(0, shape.Parts[0] with { RenderSeconds = seconds }) : shape.Parts;
        return shape with { Path = file.Path, Bytes = file.Bytes, Modified = file.Modified, Parts = parts };
    }

    private FileFacts? Shape(DuneCrateContext context, int id)
    {
        if (!_shapes.TryGetValue(id, out FileFacts? shape) && context.FactShapes.AsNoTracking().FirstOrDefault(s => s.Id == id) is { } row)
        {
            shape = _shapes[id] = JsonSerializer.Deserialize<FileFacts>(PackedText.Unpack(row.Facts), FactsDocument.Compact)!;
        }

        return shape;
    }

    private FactsRow Row(DuneCrateContext context, int folder, IntakeFile file, FactsRequest request, FileFacts facts)
    {
        bool hasPixels = request.Depth == FactsDepth.Pixels;
        return new FactsRow
        {
            FolderId = folder,
            Name = NameOf(file.FullPath),
            Bytes = file.Bytes,
            Modified = file.Modified.Ticks,
            ShapeId = ShapeId(context, HeaderOnly(facts)),
            RenderSeconds = facts.Parts.IsEmpty ? null : facts.Parts[0].RenderSeconds,
            Request = hasPixels ? Key(request) : null,
            Pixels = hasPixels ? PackedText.Pack(JsonSerializer.Serialize(facts, FactsDocument.Compact)) : null,
            Content = file.Content is { IsEmpty: false } content ? [.. content] : null,
        };
    }

    /// <summary>What is left of facts at header depth, without what differs from file to file.</summary>
    private static FileFacts HeaderOnly(FileFacts facts) => facts with
    {
        Path = "",
        Bytes = 0,
        Modified = default,
        Rebuild = null,
        Parts = [.. facts.Parts.Select((p, i) => p with { RenderSeconds = i == 0 ? null : p.RenderSeconds, DeepSamples = null, Passes = null, Channels = [.. p.Channels.Select(c => c.Samples is null ? c : c with { Samples = null })] })],
    };

    private int ShapeId(DuneCrateContext context, FileFacts shape)
    {
        string text = Form + JsonSerializer.Serialize(shape, FactsDocument.Compact);
        if (_shapeIds.TryGetValue(text, out int id))
        {
            return id;
        }

        long hash = unchecked((long)XxHash3.HashToUInt64(Encoding.UTF8.GetBytes(text)));
        FactShapeRow? row = context.FactShapes.AsNoTracking().FirstOrDefault(s => s.Hash == hash);
        if (row is null)
        {
            row = new FactShapeRow { Hash = hash, Facts = PackedText.Pack(text[Form.Length..]) };
            using DuneCrateContext own = contexts.CreateDbContext();
            own.FactShapes.Add(row);
            own.SaveChanges();
        }

        return _shapeIds[text] = row.Id;
    }

    private int? FolderId(DuneCrateContext context, string path, bool make)
    {
        if (_folders.TryGetValue(path, out int id))
        {
            return id;
        }

        FactFolderRow? row = context.FactFolders.AsNoTracking().FirstOrDefault(f => f.Path == path);
        if (row is null && make)
        {
            row = new FactFolderRow { Path = path };
            using DuneCrateContext own = contexts.CreateDbContext();
            own.FactFolders.Add(row);
            own.SaveChanges();
        }

        return row is null ? null : _folders[path] = row.Id;
    }

    private static long Key(FactsRequest request) => unchecked((long)XxHash3.HashToUInt64(Encoding.UTF8.GetBytes($"{Form}:{request.Signature}")));
}
