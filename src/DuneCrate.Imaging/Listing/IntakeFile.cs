using System.Collections.Immutable;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Imaging.Listing;

/// <summary>One file as the folder lists it, unopened. Size and time of a link are those of the file that it leads to.</summary>
/// <param name="Place">Where it is.</param>
/// <param name="Path">Path relative to the folder that is taken in, with <c>/</c>.</param>
/// <param name="Bytes">Size.</param>
/// <param name="Modified">Time of the last change, UTC.</param>
public sealed record IntakeFile(StoragePath Place, string Path, long Bytes, DateTime Modified)
{
    private static readonly Dictionary<string, string> Formats = FileFormat
        .All.SelectMany(f => f.Extensions.Select(e => (Extension: e, f.Key)))
        .ToDictionary(f => f.Extension, f => f.Key, StringComparer.OrdinalIgnoreCase);

    /// <summary>Its key: the path from the top of the file system.</summary>
    public string FullPath => Place.FullPath;

    /// <summary>XXH3 (128 bit) of the whole file, when files are told apart by content instead of by time; else empty.</summary>
    public ImmutableArray<byte> Content { get; init; } = [];

    /// <summary>Format by extension, also in <c>name.exr.0001</c>; empty for files that are no pictures.</summary>
    public string Format { get; } = FormatOf(Path);

    /// <summary>The file with its content hashed, which reads every byte; as it is when it cannot be read.</summary>
    public IntakeFile Hashed(CancellationToken cancel)
    {
        try
        {
            using StorageFile file = Place.Open();
            return this with { Content = new ContentHash().Finish(file.Handle, cancel) };
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return this;
        }
    }

    /// <summary>The format that a name promises, or an empty text.</summary>
    public static string FormatOf(string path)
    {
        string[] parts = path[(path.LastIndexOf('/') + 1)..].Split('.');
        for (int i = parts.Length - 1; i > 0; i--)
        {
            if (Formats.TryGetValue(parts[i], out string? format))
            {
                return format;
            }

            if (!parts[i].TrimStart('-').All(char.IsAsciiDigit))
            {
                break;
            }
        }

        return "";
    }
}
