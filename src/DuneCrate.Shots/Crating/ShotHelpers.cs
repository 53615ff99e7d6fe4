using System.Collections.Immutable;
using DuneCrate.Planning.Scene.Helpers;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>The scene helpers of a shot as they are kept: the originals, which of them are handed over, and what came back.</summary>
/// <param name="Row">The row.</param>
/// <param name="Original">All that the file has.</param>
/// <param name="Chosen">Names of those that are handed over.</param>
/// <param name="Offsets">What came back.</param>
public sealed record ShotHelpers(SceneHelpersRow Row, HelperSet Original, ImmutableArray<string> Chosen, HelperOffsets Offsets)
{
    /// <summary>Those that are handed over, with what came back laid over them.</summary>
    public HelperSet Handed => Original.With(Offsets).Only(Chosen);

    /// <summary>What a row keeps; null when it is none or cannot be read any more.</summary>
    public static ShotHelpers? Of(SceneHelpersRow? row, HelperShot? shot)
    {
        if (row is null || shot is null)
        {
            return null;
        }

        try
        {
            HelperSet original = HelperTable.Read(row.Table, shot);
            return new ShotHelpers(
                row,
                original with
                {
                    Told = [.. row.Told.Split('\n', StringSplitOptions.RemoveEmptyEntries)],
                },
                [.. row.Chosen.Split('\n', StringSplitOptions.RemoveEmptyEntries)],
                row.Offsets.Length == 0 ? HelperOffsets.None : ReadOffsets(row.Offsets, shot)
            );
        }
        catch (FormatException)
        {
            return null;
        }
    }

    /// <summary>Offsets as a table: each stands there as a locator of its helper's name.</summary>
    public static string Write(HelperOffsets offsets, HelperShot shot) =>
        offsets.Offsets.IsEmpty
            ? ""
            : HelperTable.Write(
                offsets.Offsets.Select(o => new SceneHelper(o.Key, DuneCrate.Planning.Scene.ItemKind.Locator, o.Value)),
                shot.First
            );

    private static HelperOffsets ReadOffsets(string table, HelperShot shot) =>
        new(HelperTable.Read(table, shot).Helpers.ToImmutableSortedDictionary(h => h.Name, h => h.Poses, StringComparer.Ordinal));
}
