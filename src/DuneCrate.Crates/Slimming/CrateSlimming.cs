using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Crates.Converting;
using DuneCrate.Crates.Recipes;
using DuneCrate.Exr;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;

namespace DuneCrate.Crates.Slimming;

/// <summary>
/// Finds what could go from a crate without loss, and measures what that saves by making three frames of each sequence: the first, the
/// middle one and the last. What is the same or empty is told by what the check read of every frame.
/// </summary>
public sealed class CrateSlimming
{
    /// <summary>Sequences that are tried, the largest; the others are taken to shrink as these do.</summary>
    public const int MostTried = 16;

    private const int FramesTried = 3;

    private static readonly ImmutableArray<string> Lossless = ["zip", "piz", "zips"];

    private readonly CrateContents _contents;
    private readonly StoragePath _scratch;
    private readonly ReadLimits _limits;
    private readonly CancellationToken _cancel;
    private int _trial;

    private CrateSlimming(CrateContents contents, StoragePath scratch, ReadLimits limits, CancellationToken cancel) =>
        (_contents, _scratch, _limits, _cancel) = (contents, scratch, limits, cancel);

    /// <summary>What could go, the most bytes first.</summary>
    /// <param name="contents">The crate as it would be sealed, found at pixel depth.</param>
    /// <param name="scratch">A folder for what is tried; emptied again.</param>
    /// <param name="limits">Bounds on what is read.</param>
    /// <param name="cancel">Stops.</param>
    /// <exception cref="IOException">The disk refuses.</exception>
    /// <exception cref="CrateRefusedException">A file is not what was checked.</exception>
    public static ImmutableArray<CrateSaving> Find(CrateContents contents, StoragePath scratch, ReadLimits limits, CancellationToken cancel)
    {
        var slimming = new CrateSlimming(contents, scratch, limits, cancel);
        Trial now = slimming.Try(contents.Recipe)!;
        return
        [
            .. slimming
                .Empty(now)
                .Concat(slimming.Window(now))
                .Concat(slimming.Compression(now))
                .Concat(slimming.Halves(now))
                .Concat(slimming.Same())
                .Where(s => s.Bytes > 0)
                .OrderByDescending(s => s.Bytes),
        ];
    }

    private CrateRecipe Recipe => _contents.Recipe;

    /// <summary>Passes that hold nothing, wherever they are planned.</summary>
    private IEnumerable<CrateSaving> Empty(Trial now)
    {
        IEnumerable<IGrouping<string, (CrateSequence Sequence, PackedPass Pass)>> passes = _contents
            .Sequences.SelectMany(s => s.Passes.Select(p => (s, p)))
            .GroupBy(p => p.p.Plan.Pass);
        string[] empty = [.. passes.Where(g => g.All(p => IsEmpty(p.Sequence, p.Pass))).Select(g => g.Key)];
        if (empty.Length == 0 || _contents.Sequences.All(s => s.Passes.All(p => empty.Contains(p.Plan.Pass))))
        {
            yield break;
        }

        CrateRecipe with = Recipe with { Drop = [.. (Recipe.Drop ?? []).Concat(empty).Distinct()] };
        if (Try(with) is { } trial)
        {
            yield return new CrateSaving(
                SavingKind.Empty,
                $"{Words.List(empty)}: every sample of every frame is 0.",
                now.Bytes - trial.Bytes,
                with
            );
        }
    }

    private bool IsEmpty(CrateSequence sequence, PackedPass pass) =>
        pass.Facts is not null
        && sequence
            .Files.Select(f => FactsOf(pass, f))
            .All(facts =>
                facts is not null
                && pass.Plan.Channels.Keys.Select(facts.FindChannel).All(c => c?.Samples is { } s && s.Pixels > 0 && s.Zero == s.Pixels)
            );

    private FileFacts? FactsOf(PackedPass pass, CrateFile file) =>
        file
            .Sources.Select(s => _contents.Found.Intake.Facts.GetValueOrDefault(s.Path))
            .OfType<FileFacts>()
            .Select(f => pass.Output.Held is { } held ? f.As(held) : f)
            .FirstOrDefault(f => pass.Plan.Channels.Keys.Any(c => f.FindChannel(c) is not null));

    private IEnumerable<CrateSaving> Window(Trial now)
    {
        CrateRecipe with = Recipe with { Window = RecipeWindow.Content };
        if (Recipe.Window != RecipeWindow.Content && Try(with) is { } trial)
        {
            yield return new CrateSaving(
                SavingKind.Window,
                "Borders in which every sample is 0: files keep the box that holds something, and the display window stays as it is.",
                now.Bytes - trial.Bytes,
                with
            );
        }
    }

    /// <summary>The best of the other lossless compressions.</summary>
    private IEnumerable<CrateSaving> Compression(Trial now)
    {
        (CrateRecipe With, Trial Trial)[] tried =
        [
            .. Lossless
                .Where(c => c != Recipe.Compression && ExrCompression.Find(c)?.IsWritten == true)
                .Select(c => Recipe with { Compression = c })
                .Select(r => (r, Try(r)))
                .Where(t => t.Item2 is not null)
                .Select(t => (t.r, t.Item2!)),
        ];
        if (tried.Length > 0)
        {
            (CrateRecipe with, Trial trial) = tried.MinBy(t => t.Trial.Bytes);
            yield return new CrateSaving(
                SavingKind.Compression,
                $"Packed as {with.Compression!.ToUpperInvariant()} the same samples take less.",
                now.Bytes - trial.Bytes,
                with
            );
        }
    }

    /// <summary>Kinds of passes whose floats are halves in all that was tried.</summary>
    private IEnumerable<CrateSaving> Halves(Trial now)
    {
        PassKind[] kinds =
        [
            .. _contents
                .Sequences.SelectMany(s => s.Passes)
                .Where(p => p.Definition is { IsExact: false } && p.Channels.Any(c => c.Type == ChannelType.Float))
                .Select(p => p.Definition!.Kind)
                .Distinct(),
        ];
        foreach (PassKind kind in kinds)
        {
            CrateRecipe with = Recipe with
            {
                Types = new OrderedDictionary<PassKind, ChannelType>(
                    (Recipe.Types ?? []).Where(t => t.Key != kind).Append(KeyValuePair.Create(kind, ChannelType.Half))
                ),
            };
            if (Try(with) is { IsLossless: true } trial)
            {
                yield return new CrateSaving(
                    SavingKind.Half,
                    $"Passes of {Words.Choice(kind)} are float and hold only what half holds, in the "
                        + $"{Words.Count(FramesTried, "frame")} of each that were tried; sealing measures the loss of all.",
                    now.Bytes - trial.Bytes,
                    with
                );
            }
        }
    }

    /// <summary>Frames of which every channel is as in the frame before.</summary>
    private IEnumerable<CrateSaving> Same()
    {
        foreach (CrateSequence sequence in _contents.Sequences.Where(s => s.Files.Length > 1))
        {
            var same = new List<CrateFile>();
            string? before = null;
            foreach (CrateFile file in sequence.Files)
            {
                string[] hashes = [.. file.Sources.SelectMany(s => HashesOf(s.Path))];
                string now = string.Join(' ', hashes);
                if (hashes.Length > 0 && hashes.All(h => h.Length > 0) && now == before)
                {
                    same.Add(file);
                }

                before = now;
            }

            if (same.Count > 0)
            {
                var frames = FrameSet.From(same.Select(f => f.Frame));
                yield return new CrateSaving(
                    SavingKind.Same,
                    same.Count == sequence.Files.Length - 1
                        ? $"{sequence.Name}: all frames are the same; planned as a still, one would do."
                        : $"{sequence.Name}: {Words.Count(same.Count, "frame")} {Words.Are(same.Count)} as the one before: {frames}.",
                    same.Sum(f => f.Bytes),
                    null
                );
            }
        }
    }

    private IEnumerable<string> HashesOf(string path) =>
        _contents.Found.Intake.Facts.GetValueOrDefault(path)?.Channels.Select(c => c.Samples?.Hash ?? "") ?? [];

    /// <summary>Makes three frames of each sequence as a recipe wants them; null when it wants what cannot be.</summary>
    private Trial? Try(CrateRecipe recipe)
    {
        CrateContents contents;
        try
        {
            contents = CrateContents.From(_contents.Found, _contents.Layout, recipe);
        }
        catch (CrateRefusedException)
        {
            return null;
        }

        StoragePath work = _scratch.At(string.Create(CultureInfo.InvariantCulture, $"trial_{++_trial}"));
        try
        {
            return Make(contents, work);
        }
        finally
        {
            if (work.IsThere)
            {
                work.DeleteFolder();
            }
        }
    }

    private Trial Make(CrateContents contents, StoragePath work)
    {
        // Sequences that are cut out of one file are made together, and count by that file.
        IGrouping<string, CrateSequence>[] groups =
        [
            .. contents
                .Sequences.Where(s => !s.Files.IsEmpty)
                .GroupBy(s => FrameName.Read(s.Files[0].From).ToString())
                .OrderByDescending(g => g.Max(s => s.Bytes)),
        ];
        (double made, double was, bool isLossless) = (0, 0, true);
        foreach (IGrouping<string, CrateSequence> group in groups.Take(MostTried))
        {
            foreach (CrateSequence sequence in group)
            {
                CrateFile[] files = Some(sequence.Files);
                foreach (CrateFile file in files)
                {
                    double share = (double)sequence.Files.Length / files.Length;
                    _cancel.ThrowIfCancellationRequested();
                    if (file.Conversion is null)
                    {
                        made += share * file.Bytes;
                        continue;
                    }

                    MadeFile one = FileMaker.Make(contents.Folder, work, [file], _limits, _cancel)[0];
                    made += share * one.Bytes;
                    isLossless &= one.Loss is null or { Absolute: 0 };
                    work.At(file.To).Delete();
                }
            }

            was += group.Max(s => s.Bytes);
        }

        double others = groups.Skip(MostTried).Sum(g => (double)g.Max(s => s.Bytes));
        return new Trial((long)(made + (was > 0 ? others * made / was : 0)), isLossless);
    }

    private static CrateFile[] Some(ImmutableArray<CrateFile> files) =>
        [.. new[] { 0, files.Length / 2, files.Length - 1 }.Distinct().Select(i => files[i])];

    /// <summary>What a recipe came to.</summary>
    /// <param name="Bytes">About how many bytes of pictures.</param>
    /// <param name="IsLossless">Whether every half is the float that it was made of.</param>
    private sealed record Trial(long Bytes, bool IsLossless);
}
