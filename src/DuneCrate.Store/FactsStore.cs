using System.Collections.Concurrent;
using System.Text.Json;
using DuneCrate.Core.Intake;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>
/// The facts cache in the database. Facts that are kept are written in batches; <see cref="Flush"/> writes the rest. Safe to call from
/// several threads.
/// </summary>
public sealed class FactsStore(IDbContextFactory<DuneCrateContext> contexts) : IFactsCache
{
    /// <summary>Raised when the form or the meaning of facts changes, so that old ones are not believed.</summary>
    private const string Form = "2";

    private const int Batch = 128;

    private readonly ConcurrentQueue<FactsRow> _waiting = new();
    private readonly Lock _writing = new();

    /// <inheritdoc/>
    public FileFacts? Find(IntakeFile file, FactsRequest request)
    {
        using DuneCrateContext context = contexts.CreateDbContext();
        FactsRow? row = context.Facts.AsNoTracking().FirstOrDefault(f => f.Path == file.FullPath);
        bool answers = row is not null && row.Bytes == file.Bytes && row.Modified == file.Modified.Ticks &&
            (request.Depth == FactsDepth.Header ? row.Signature.StartsWith(Form, StringComparison.Ordinal) : row.Pixels && row.Signature == Signature(request));
        return answers ? JsonSerializer.Deserialize<FileFacts>(PackedText.Unpack(row!.Facts), FactsDocument.Compact) : null;
    }

    /// <inheritdoc/>
    public void Keep(IntakeFile file, FactsRequest request, FileFacts facts)
    {
        _waiting.Enqueue(new FactsRow
        {
            Path = file.FullPath,
            Bytes = file.Bytes,
            Modified = file.Modified.Ticks,
            Pixels = request.Depth == FactsDepth.Pixels,
            Signature = Signature(request),
            Facts = PackedText.Pack(JsonSerializer.Serialize(facts, FactsDocument.Compact)),
        });
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
            var rows = new Dictionary<string, FactsRow>();
            while (_waiting.TryDequeue(out FactsRow? row))
            {
                rows[row.Path] = row;
            }

            if (rows.Count == 0)
            {
                return;
            }

            using DuneCrateContext context = contexts.CreateDbContext();
            string[] paths = [.. rows.Keys];
            var known = context.Facts.Where(f => paths.Contains(f.Path)).Select(f => f.Path).ToHashSet();
            context.Facts.UpdateRange(rows.Values.Where(r => known.Contains(r.Path)));
            context.Facts.AddRange(rows.Values.Where(r => !known.Contains(r.Path)));
            context.SaveChanges();
        }
    }

    private static string Signature(FactsRequest request) => $"{Form}:{request.Rebuild?.Signature}";
}
