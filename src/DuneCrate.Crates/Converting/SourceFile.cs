using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;

namespace DuneCrate.Crates.Converting;

/// <summary>A rendered file that others are made of. What is read of it is held against what was checked.</summary>
internal sealed class SourceFile : IDisposable
{
    private readonly CrateSource _source;
    private readonly StorageFile _opened;
    private readonly ContentHash _content = new();
    private readonly ExrFile _file;
    private readonly SourcePart?[] _parts;

    /// <summary>Opens it.</summary>
    /// <exception cref="CrateRefusedException">It is no picture that can be converted, or not what was checked.</exception>
    /// <exception cref="IOException">It cannot be read.</exception>
    public SourceFile(StoragePath folder, CrateSource source, ReadLimits limits)
    {
        _source = source;
        _opened = folder.At(source.Path).Open();
        try
        {
            _file = ExrFile.Read(_opened, limits.Exr, _content);
        }
        catch (ImageException e)
        {
            _opened.Dispose();
            throw new CrateRefusedException($"{source.Path} cannot be converted: {e.Reason}. Check again, then seal.");
        }

        _parts = new SourcePart?[_file.Parts.Length];
    }

    /// <summary>Memory that reading a part takes.</summary>
    public long ReadingBytes => _file.Parts.Where(p => p.Unsupported is null).Select(_file.ReadingBytes).DefaultIfEmpty(0).Max();

    /// <summary>A part, and the number of a channel in it.</summary>
    /// <exception cref="CrateRefusedException">It has no such channel, or cannot be converted.</exception>
    public (SourcePart Part, int Channel) Find(int part, string channel)
    {
        if (part >= _parts.Length || _file.Parts[part].Channels.All(c => c.Name != channel))
        {
            throw Changed($"it has no channel {channel}");
        }

        SourcePart found = _parts[part] ??= new SourcePart(_file, _file.Parts[part]);
        return (found, found.IndexOf(channel));
    }

    /// <summary>Reads whatever was not read yet.</summary>
    /// <exception cref="CrateRefusedException">It is not what was checked.</exception>
    public void Finish(CancellationToken cancel)
    {
        if (
            _source.Content.IsDefaultOrEmpty
            || !_content.Finish(_opened.Handle, cancel).AsSpan().SequenceEqual(_source.Content.AsSpan())
            || _opened.HasChanged
        )
        {
            throw Changed("its content has changed");
        }
    }

    private CrateRefusedException Changed(string how) => new($"{_source.Path} is not what was checked: {how}. Check again, then seal.");

    public void Dispose()
    {
        foreach (SourcePart? part in _parts)
        {
            part?.Dispose();
        }

        _file.Dispose();
    }
}
