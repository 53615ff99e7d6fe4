using System.Collections.Immutable;
using System.IO.Hashing;
using System.Text;
using System.Text.Json;
using DuneCrate.Checking.Intake;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Caching.Memory;

namespace DuneCrate.Store;

/// <content>Rows: how facts are packed and found again.</content>
public sealed partial class FactsStore
{
    /// <inheritdoc/>
    public void Dispose()
    {
        _shapes.Dispose();
        _shapeIds.Dispose();
    }

    private static string FolderOf(string path) => Path.GetDirectoryName(path) ?? "/";

    private static string NameOf(string path) => Path.GetFileName(path);

    private static bool IsUnchanged(IntakeFile file, FactsRow row) =>
        row.Bytes == file.Bytes
        && (
            file.Content is { IsEmpty: false } content
                ? row.Content is not null && content.AsSpan().SequenceEqual(row.Content)
                : row.Modified == file.Modified.Ticks
        );

    private FileFacts? Answer(DuneCrateContext context, IntakeFile file, FactsRow row, FactsRequest request)
    {
        if (request.Depth == FactsDepth.Pixels)
        {
            return row is { Pixels: { } pixels, Content: { Length: ContentHash.Bytes } content } && row.Request == Key(request)
                ? JsonSerializer.Deserialize<FileFacts>(PackedText.Unpack(pixels), FactsDocument.Compact)! with
                {
                    Content = [.. content],
                }
                : null;
        }

        if (Shape(context, row.ShapeId) is not { } shape)
        {
            return null;
        }

        ImmutableArray<PartFacts> parts =
            row.RenderSeconds is { } seconds && !shape.Parts.IsEmpty
                ? shape.Parts.SetItem(0, shape.Parts[0] with { RenderSeconds = seconds })
                : shape.Parts;
        return shape with { Path = file.Path, Bytes = file.Bytes, Modified = file.Modified, Parts = parts };
    }

    private FileFacts? Shape(DuneCrateContext context, int id)
    {
        if (!_shapes.TryGetValue(id, out FileFacts? shape) && context.FactShapes.AsNoTracking().FirstOrDefault(s => s.Id == id) is { } row)
        {
            shape = _shapes.Set(id, JsonSerializer.Deserialize<FileFacts>(PackedText.Unpack(row.Facts), FactsDocument.Compact)!, One);
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
            Content =
                !facts.Content.IsEmpty ? [.. facts.Content]
                : !file.Content.IsEmpty ? [.. file.Content]
                : null,
        };
    }

    /// <summary>What is left of facts at header depth, without what differs from file to file.</summary>
    private static FileFacts HeaderOnly(FileFacts facts) =>
        facts with
        {
            Path = "",
            Bytes = 0,
            Modified = default,
            Rebuild = null,
            Parts =
            [
                .. facts.Parts.Select(
                    (p, i) =>
                        p with
                        {
                            RenderSeconds = i == 0 ? null : p.RenderSeconds,
                            DeepSamples = null,
                            Passes = null,
                            Channels = [.. p.Channels.Select(c => c.Samples is null ? c : c with { Samples = null })],
                        }
                ),
            ],
        };

    private int ShapeId(DuneCrateContext context, FileFacts shape)
    {
        string text = Form + JsonSerializer.Serialize(shape, FactsDocument.Compact);
        long hash = unchecked((long)XxHash3.HashToUInt64(Encoding.UTF8.GetBytes(text)));
        if (_shapeIds.TryGetValue(hash, out int id))
        {
            return id;
        }

        FactShapeRow? row = context.FactShapes.AsNoTracking().FirstOrDefault(s => s.Hash == hash);
        if (row is null)
        {
            row = new FactShapeRow { Hash = hash, Facts = PackedText.Pack(text[Form.Length..]) };
            using DuneCrateContext own = contexts.CreateDbContext();
            own.FactShapes.Add(row);
            own.SaveChanges();
        }

        return _shapeIds.Set(hash, row.Id, One);
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
            row = new FactFolderRow { Path = path, Seen = Today };
            using DuneCrateContext own = contexts.CreateDbContext();
            own.FactFolders.Add(row);
            own.SaveChanges();
        }

        return row is null ? null : _folders[path] = row.Id;
    }

    private static long Key(FactsRequest request) =>
        unchecked((long)XxHash3.HashToUInt64(Encoding.UTF8.GetBytes($"{Form}:{request.Signature}")));
}
