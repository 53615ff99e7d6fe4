using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Engine.Messages;

/// <summary>A sum over several files.</summary>
/// <param name="Layer">The layer.</param>
/// <param name="Frame">The frame.</param>
/// <param name="Recipe">What sums to what.</param>
/// <param name="Files">The files, the one with the beauty first.</param>
/// <param name="Key">The hash of recipe and contents, in hexadecimal digits.</param>
public sealed record SumMessage(string Layer, int Frame, RebuildRecipe Recipe, ImmutableArray<SumFile> Files, string Key)
{
    /// <summary>The message of a sum.</summary>
    public static SumMessage Of(SplitSum sum) =>
        new(
            sum.Layer,
            sum.Frame,
            sum.Recipe,
            [.. sum.Files.Select(f => new SumFile(f.Path, f.Channels, HeldMessage.Of(f.Held)))],
            sum.Key.Hash.ToString("x32", CultureInfo.InvariantCulture)
        );

    /// <summary>The sum over files of a folder.</summary>
    /// <exception cref="FormatException">It is none.</exception>
    /// <exception cref="StorageException">A path leads out of the folder.</exception>
    public SplitSum In(StoragePath folder, PassCatalogue catalogue) =>
        new(
            Layer,
            Frame,
            Recipe,
            [.. Files.Select(f => (f.Path, f.Channels, f.Held?.In(catalogue)))],
            new RebuildKey(
                folder.At(Files is [var lead, ..] ? lead.Path : throw new FormatException("a sum has no file")),
                UInt128.Parse(Key, NumberStyles.HexNumber, CultureInfo.InvariantCulture)
            )
        );
}
