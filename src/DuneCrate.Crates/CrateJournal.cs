using System.IO.Hashing;
using System.Text;
using System.Text.Json;
using DuneCrate.Crates.Converting;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates;

/// <summary>
/// What of a crate stands in its hidden folder already, written down as it is done: whoever is killed while sealing goes on from there.
/// Every file is read back before the crate is published, so that nothing here is believed. Safe to share between threads.
/// </summary>
internal sealed class CrateJournal : IDisposable
{
    /// <summary>Name of its file in the hidden folder; it goes before the crate is published.</summary>
    public const string FileName = ".done";

    private const long MostBytes = 256L << 20;

    private readonly StoragePath _path;
    private readonly Dictionary<string, Entry> _done = new(StringComparer.Ordinal);
    private readonly FileStream _file;
    private readonly Lock _writing = new();

    /// <summary>Takes up what a killed sealing left in a folder; what it does not speak of is taken away.</summary>
    /// <param name="work">The hidden folder, which is there.</param>
    /// <exception cref="IOException">The disk refuses.</exception>
    public CrateJournal(StoragePath work)
    {
        _path = work.At(FileName);
        foreach (Entry entry in Read())
        {
            _done[entry.Path] = entry;
        }

        foreach ((string path, FileStamp stamp) in work.Everything().ToArray())
        {
            if (!_done.TryGetValue(path, out Entry? entry) || stamp.Kind != FileKind.Regular || stamp.Length != entry.Bytes)
            {
                work.At(path).Delete();
                _done.Remove(path);
            }
        }

        _file = _path.CreateNew();
        foreach (Entry entry in _done.Values.ToArray())
        {
            if (work.At(entry.Path).IsThere)
            {
                Append(entry);
            }
            else
            {
                _done.Remove(entry.Path);
            }
        }
    }

    /// <summary>The file as it stands there already, made of the same and in the same way; null when it is to be made.</summary>
    public MadeFile? Find(CrateFile file) =>
        _done.TryGetValue(file.To, out Entry? entry) && entry.Key == KeyOf(file) ? new MadeFile(entry.Sum, entry.Bytes, entry.Loss) : null;

    /// <summary>Takes away what is not wanted any more.</summary>
    public void KeepOnly(IEnumerable<string> paths)
    {
        foreach (string path in _done.Keys.Except(paths).ToArray())
        {
            _path.Parent.At(path).Delete();
            _done.Remove(path);
        }
    }

    /// <summary>Whether a file stands there that is to be made anew.</summary>
    public bool IsStale(CrateFile file) => _done.ContainsKey(file.To) && Find(file) is null;

    /// <summary>Notes a file that was written.</summary>
    public void Note(CrateFile file, MadeFile made) => Append(new Entry(file.To, made.Sum, made.Bytes, KeyOf(file), made.Loss));

    /// <summary>Takes the journal away.</summary>
    public void Finish()
    {
        _file.Dispose();
        _path.Delete();
    }

    public void Dispose() => _file.Dispose();

    private void Append(Entry entry)
    {
        byte[] line = Encoding.UTF8.GetBytes(JsonSerializer.Serialize(entry, CrateJson.InLines.Of<Entry>()) + "\n");
        lock (_writing)
        {
            _file.Write(line);
        }
    }

    /// <summary>The entries up to the first line that is none, as a kill leaves half of one.</summary>
    private List<Entry> Read()
    {
        var entries = new List<Entry>();
        if (!_path.IsThere)
        {
            return entries;
        }

        foreach (string line in _path.ReadText(MostBytes).Split('\n', StringSplitOptions.RemoveEmptyEntries))
        {
            try
            {
                if (JsonSerializer.Deserialize(line, CrateJson.Ahead.Of<Entry>()) is { } entry && StoragePath.Problem(entry.Path) is null)
                {
                    entries.Add(entry);
                }
            }
            catch (JsonException)
            {
                break;
            }
        }

        return entries;
    }

    /// <summary>A hash of what a file is made of and how.</summary>
    private static string KeyOf(CrateFile file)
    {
        var hash = new XxHash128();
        foreach (CrateSource source in file.Sources)
        {
            hash.Append(source.Content.AsSpan());
        }

        hash.Append(Encoding.UTF8.GetBytes(file.Conversion?.Signature ?? ""));
        return Convert.ToHexStringLower(hash.GetCurrentHash());
    }

    internal sealed record Entry(string Path, string Sum, long Bytes, string Key, HalfLoss? Loss);
}
