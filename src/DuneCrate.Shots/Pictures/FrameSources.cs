using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Globalization;
using System.Runtime.CompilerServices;
using System.Text.RegularExpressions;
using DuneCrate.Crates;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Pictures;

/// <summary>Finds the places where frames of a shot lie beside its folder, to compare with.</summary>
public sealed partial class FrameSources(StorageRoots roots, CheckStore checkStore)
{
    private const int Most = 100,
        MostChecks = 12;
    private const string VersionKey = "version/",
        FolderKey = "folder/",
        CrateKey = "crate/",
        CheckKey = "check/",
        TimeForm = "yyyy-MM-ddTHH:mm:ss.fffffffZ";

    private readonly ConditionalWeakTable<ShotView, ConcurrentDictionary<string, FrameSource>> _known = [];

    /// <summary>The key of a crate.</summary>
    public static string KeyOf(CrateRow crate) => CrateKey + crate.Id.ToString(CultureInfo.InvariantCulture);

    /// <summary>Every place that there is beside the shot's own folder.</summary>
    public async Task<ImmutableArray<FrameSource>> ListAsync(ShotView shot, CancellationToken cancel)
    {
        IEnumerable<string> checks = (await checkStore.FinishedChecksAsync(shot.Row.Id, MostChecks, cancel)).Select(c =>
            CheckKey + (c.Ended ?? c.Asked).ToString(TimeForm, CultureInfo.InvariantCulture)
        );
        return await Task.Run(
            () =>
                Versions(shot)
                    .Select(v => VersionKey + v)
                    .Concat(Beside(shot).Select(f => FolderKey + f))
                    .Concat(shot.Crates.Where(c => c.Path is not null).Select(KeyOf))
                    .Concat(checks)
                    .Take(Most)
                    .Select(key => Find(shot, key))
                    .OfType<FrameSource>()
                    .ToImmutableArray(),
            cancel
        );
    }

    /// <summary>
    /// A place by its key, worked out once for a shot as it is; null when it is none of this shot's. May ask the disk.
    /// </summary>
    public FrameSource? Find(ShotView shot, string key)
    {
        ConcurrentDictionary<string, FrameSource> known = _known.GetOrCreateValue(shot);
        if (known.TryGetValue(key, out FrameSource? source) || (source = Make(shot, key)) is null)
        {
            return source;
        }

        if (known.Count < Most)
        {
            known[key] = source;
        }

        return source;
    }

    private FrameSource? Make(ShotView shot, string key)
    {
        if (shot.Folder is not { } folder)
        {
            return null;
        }

        if (key.Length == 0)
        {
            return new FrameSource("", "the shot’s folder", folder, (output, _) => output.Name);
        }

        (string kind, string name) = (key[..(key.IndexOf('/') + 1)], key[(key.IndexOf('/') + 1)..]);
        return kind switch
        {
            VersionKey when TextLimits.NameProblem(name) is null => OfVersion(shot, folder, name),
            FolderKey when IsOf(folder.Name, name) && folder.Parent.TryAt(name, out StoragePath? beside, out _) => new FrameSource(
                key,
                $"folder {name}",
                beside,
                (output, _) => output.Name
            ),
            CrateKey => shot.Crates.FirstOrDefault(c => c.Id.ToString(CultureInfo.InvariantCulture) == name) is { } row
                ? OfCrate(row)
                : null,
            CheckKey
                when DateTime.TryParseExact(
                    name,
                    TimeForm,
                    CultureInfo.InvariantCulture,
                    DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal,
                    out DateTime ended
                ) => new FrameSource(
                key,
                $"check of {ended.ToString("d MMM, HH:mm", CultureInfo.InvariantCulture)}",
                folder,
                (output, _) => output.Name
            )
            {
                AsOf = ended,
            },
            _ => null,
        };
    }

    private static FrameSource OfVersion(ShotView shot, StoragePath folder, string version)
    {
        ImmutableArray<PlannedOutput> others = PlannedOutput.From(AsVersion(shot.Seen, version)),
            own = shot.Outputs;
        return new FrameSource(
            VersionKey + version,
            $"version {version}",
            folder,
            (output, _) => own.IndexOf(output) is >= 0 and int i && i < others.Length ? others[i].Name : null
        );
    }

    private FrameSource? OfCrate(CrateRow row)
    {
        if (row.Path is null || roots.CrateAt(row.Path) is not { } folder || CrateVerifier.ManifestOf(folder) is not { } manifest)
        {
            return null;
        }

        var passes = manifest.Passes.DistinctBy(p => (p.Layer, p.Pass)).ToImmutableDictionary(p => (p.Layer, p.Pass));
        CratePass? Of(PlannedOutput output, string pass) => passes.GetValueOrDefault((output.Layer.Name, pass));
        return new FrameSource(
            KeyOf(row),
            $"crate {row.Name}",
            folder,
            (output, pass) => Of(output, pass) is { } there ? FrameName.Read(there.Files) : null
        )
        {
            FrameShift = manifest.FrameShift,
            ChannelsOf = (output, pass) => Of(output, pass) is { } there ? [.. there.Channels.Keys] : null,
        };
    }

    private static Plan AsVersion(Plan plan, string version) => plan with { Shot = plan.Shot with { Version = version } };

    /// <summary>Other versions that the names of the plan could have, as the files and folders of the shot's folder show them.</summary>
    private static IEnumerable<string> Versions(ShotView shot)
    {
        // The first name in which the version stands shows where to look for others: a part of its path with another number.
        const string stand = "\u0001";
        string? name = PlannedOutput.From(AsVersion(shot.Seen, stand)).Select(o => o.Name.Prefix).FirstOrDefault(n => n.Contains(stand));
        if (name is null || shot.Folder is null)
        {
            return [];
        }

        string now = shot.Seen.Shot.Version ?? VersionStyle.Write(shot.Seen.Show.VersionStyle, 1);
        int at = name.IndexOf(stand, StringComparison.Ordinal),
            start = name.LastIndexOf('/', at) + 1;
        string before = name[start..at];
        var other = new Regex($"^{Regex.Escape(before)}(?<version>[A-Za-z_]*[0-9]+)");
        try
        {
            StoragePath parent = start == 0 ? shot.Folder : shot.Folder.At(name[..(start - 1)]);
            return
            [
                .. parent
                    .Entries()
                    .Select(e => other.Match(e.Name))
                    .Where(m => m.Success)
                    .Select(m => m.Groups["version"].Value)
                    .Where(v => v != now && v.Length == now.Length)
                    .Distinct()
                    .OrderDescending(StringComparer.Ordinal),
            ];
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return [];
        }
    }

    /// <summary>Folders beside the shot's whose names differ from it in a version alone.</summary>
    private static IEnumerable<string> Beside(ShotView shot) =>
        shot.Folder is { Relative.Length: > 0 } folder
            ? StorageRoots.FoldersIn(folder.Parent).Where(n => IsOf(folder.Name, n)).OrderDescending(StringComparer.Ordinal)
            : [];

    private static bool IsOf(string folder, string other) => other != folder && Bare(other) == Bare(folder);

    private static string Bare(string name) => Version().Replace(name, "");

    [GeneratedRegex(@"(?:^|[._-])[vV][0-9]+(?=$|[._-])")]
    private static partial Regex Version();
}
