using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Checking.Pictures;

/// <summary>Names that the headers of files give to Cryptomatte ids.</summary>
public static class MatteNames
{
    /// <summary>The names by id; none where the file has no Cryptomatte or does not open.</summary>
    public static ImmutableDictionary<float, string> Of(StoragePath path, ReadLimits limits)
    {
        using ExrFile file = ExrFile.Open(path, limits.Exr);
        return file
            .Parts.SelectMany(p => p.Attributes)
            .Where(a => CryptomatteHeader.IsManifest(a.Name))
            .SelectMany(a => CryptoMask.Names(a.AsText()))
            .DistinctBy(n => n.Key)
            .ToImmutableDictionary();
    }
}
