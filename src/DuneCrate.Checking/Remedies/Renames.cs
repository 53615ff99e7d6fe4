using System.Collections.Immutable;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Checking.Remedies;

/// <summary>
/// Puts names right that are nearly so: slips, letter case, the number after the extension, other digits, another version at a frame that
/// is missing. Nothing is ever written over.
/// </summary>
public static class Renames
{
    /// <summary>What can be renamed: names that no other file has and that only one file wants.</summary>
    public static ImmutableArray<Rename> From(CheckContext context)
    {
        var wanted = context
            .Strays.Where(s => s.Kind is StrayKind.Misnamed or StrayKind.Case or StrayKind.Order or StrayKind.Version)
            .SelectMany(s => s.Sequence.Files.Select(f => new Rename(f.Path, s.Nearest!.Name.At(f.Frame))))
            .Concat(
                context
                    .Outputs.Where(l => l.Planned is not null && l.Name.Padding > 0)
                    .SelectMany(l =>
                        l.Files.Where(f => f.Digits != Math.Max(l.Name.Padding, FrameName.DigitsFor(f.Frame)))
                            .Select(f => new Rename(f.Facts.Path, l.Name.At(f.Frame)))
                    )
            );
        return
        [
            .. wanted
                .Where(r => !context.Intake.Facts.ContainsKey(r.To))
                .GroupBy(r => r.To)
                .Where(g => g.Count() == 1)
                .Select(g => g.First())
                .OrderBy(r => r.From, StringComparer.Ordinal),
        ];
    }

    /// <summary>
    /// Gives files below a folder their new names; when one cannot be moved, those before it are moved back. No link is followed, and no
    /// name that is taken is written over.
    /// </summary>
    /// <returns>What could not be done, and what of it could not be taken back either.</returns>
    public static RenameOutcome Apply(StoragePath folder, ImmutableArray<Rename> renames)
    {
        for (int done = 0; done < renames.Length; done++)
        {
            if (Move(folder, renames[done].From, renames[done].To) is not { } problem)
            {
                continue;
            }

            RenameOutcome back = Back(folder, renames[..done]);
            return new RenameOutcome(
                $"{renames[done].From} could not be renamed: {problem}. {(back.Left.IsEmpty ? "Nothing was renamed." : back.Problem)}",
                back.Left
            );
        }

        return RenameOutcome.Done;
    }

    /// <summary>
    /// Gives files their old names again, whatever of the renaming had been done: those that have their old name have it still, those that
    /// are gone are passed over.
    /// </summary>
    /// <returns>Those that still have their new names, and why.</returns>
    public static RenameOutcome Back(StoragePath folder, ImmutableArray<Rename> renames)
    {
        var left = ImmutableArray.CreateBuilder<Rename>();
        string? problem = null;
        foreach (Rename rename in renames.Reverse())
        {
            bool hasNew = Stands(folder, rename.To),
                hasOld = Stands(folder, rename.From);
            string? wrong =
                !hasNew ? null
                : hasOld ? "its old name is taken"
                : Move(folder, rename.To, rename.From);
            if (wrong is not null)
            {
                left.Add(rename);
                problem ??= $"{rename.To} could not get its old name {rename.From} again: {wrong}";
            }
        }

        left.Reverse();
        return left.Count == 0
            ? RenameOutcome.Done
            : new RenameOutcome(
                $"{problem}. {left.Count} {(left.Count == 1 ? "file has its new name" : "files have their new names")} still.",
                left.ToImmutable()
            );
    }

    private static bool Stands(StoragePath folder, string path) => folder.TryAt(path, out StoragePath? place, out _) && place.IsThere;

    private static string? Move(StoragePath folder, string from, string to)
    {
        try
        {
            folder.At(from).MoveTo(folder.At(to));
            return null;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return StorageException.ReasonOf(e);
        }
    }
}
