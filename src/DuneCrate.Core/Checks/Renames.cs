using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Naming;

namespace DuneCrate.Core.Checks;

/// <summary>One file's way to its right name, both relative to the folder.</summary>
/// <param name="From">The name it has.</param>
/// <param name="To">The name it should have.</param>
public sealed record Rename(string From, string To);

/// <summary>
/// Puts names right that are nearly so: slips, letter case, the number after the extension, other digits. Nothing is ever written over, and either all files move or none.
/// </summary>
public static class Renames
{
    /// <summary>What can be renamed: names that no other file has and that only one file wants.</summary>
    public static ImmutableArray<Rename> Of(CheckContext context)
    {
        var wanted = context.Strays.Where(s => s.Kind is StrayKind.Misnamed or StrayKind.Case or StrayKind.Order)
            .SelectMany(s => s.Sequence.Files.Select(f => new Rename(f.Path, s.Nearest!.Name.At(f.Frame))))
            .Concat(context.Lanes.Where(l => l.Planned is not null && l.Name.Padding > 0)
                .SelectMany(l => l.Files.Where(f => f.Digits != Math.Max(l.Name.Padding, FrameName.DigitsFor(f.Frame))).Select(f => new Rename(f.Facts.Path, l.Name.At(f.Frame)))));
        return [.. wanted.Where(r => !context.Intake.Facts.ContainsKey(r.To)).GroupBy(r => r.To).Where(g => g.Count() == 1).Select(g => g.First()).OrderBy(r => r.From, StringComparer.Ordinal)];
    }

    /// <summary>The way back.</summary>
    public static ImmutableArray<Rename> Back(IEnumerable<Rename> renames) => [.. renames.Reverse().Select(r => new Rename(r.To, r.From))];

    /// <summary>Renames files below a folder.</summary>
    /// <exception cref="IOException">A file is gone, a name is taken, or the disk refuses; what had been moved is moved back.</exception>
    /// <exception cref="UnauthorizedAccessException">The folder may not be written.</exception>
    public static void Apply(string folder, IReadOnlyList<Rename> renames)
    {
        int done = 0;
        try
        {
            for (; done < renames.Count; done++)
            {
                string to = Inside(folder, renames[done].To);
                Directory.CreateDirectory(Path.GetDirectoryName(to)!);
                File.Move(Inside(folder, renames[done].From), to);
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            foreach (Rename back in Back(renames.Take(done)))
            {
                File.Move(Inside(folder, back.From), Inside(folder, back.To));
            }

            throw new IOException($"{renames[done].From} could not be renamed to {renames[done].To}, so nothing was: {e.Message}", e);
        }
    }

    private static string Inside(string folder, string path)
    {
        string root = Path.GetFullPath(folder) + Path.DirectorySeparatorChar, full = Path.GetFullPath(Path.Combine(root, path));
        return full.StartsWith(root, StringComparison.Ordinal) ? full : throw new IOException($"{path} leads out of the folder.");
    }
}
