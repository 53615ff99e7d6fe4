using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Imaging.Stacking.Looks;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Suggestions;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;

namespace DuneCrate.Shots.Stacking;

/// <summary>What strips and masks of a shot's composites can be made of: its passes, and sequences under any root.</summary>
public sealed class StackSources(StorageRoots roots, PictureService pictures, ReadLimits limits)
{
    private const int MostPlates = 200;
    private const string ByChannel = "channel",
        ById = "id",
        ByName = "named";

    /// <summary>Something that can be chosen.</summary>
    /// <param name="Key">Names it in forms.</param>
    /// <param name="Words">Its name for people.</param>
    /// <param name="Group">What it is listed under.</param>
    public sealed record Choice(string Key, string Words, string Group);

    /// <summary>The folder that the files of a strip lie below.</summary>
    /// <exception cref="ImageException">There is none.</exception>
    public StoragePath FolderOf(ShotView view, StackStrip strip) =>
        strip.Root is null
            ? view.Folder ?? throw new ImageException(strip.Source, 0, "the shot has no folder")
            : TopOf(view, strip.Root, strip.Source, isKeeper: false);

    /// <summary>The storage root of a plate that the show may use.</summary>
    /// <exception cref="ImageException">There is no such root, or the plate lies outside the show's folders.</exception>
    private StoragePath TopOf(ShotView view, string root, string source, bool isKeeper) =>
        roots.Place(root, "").Path is not { } top ? throw new ImageException(source, 0, $"there is no storage root '{root}'")
        : top.TryAt(source, out StoragePath? path, out _) && view.Ground.Place(root, path.Parent.Relative, isKeeper).Problem is { } problem
            ? throw new ImageException(source, 0, problem.TrimEnd('.'))
        : top;

    /// <summary>The stack that the plan suggests; null when nothing of it has come.</summary>
    public StackRecipe? Propose(ShotView view)
    {
        StackRecipe recipe = StackProposal.From(view.Seen, output => StoredIn(view, output));
        return recipe.Strips.Length == 0 ? null : recipe;
    }

    /// <summary>The passes that can be laid in, and what can be done by them.</summary>
    public static ImmutableArray<Choice> Passes(ShotView view) =>
        [
            .. from layer in view.Seen.Layers
            from pass in layer.Passes
            let definition = view.Plan.Catalogue.Find(pass.Pass)
            let isLaid = definition?.Kind is not (PassKind.Data or PassKind.Identity)
            from kind in Enum.GetValues<LookKind>().Select(k => (LookKind?)k).Prepend(null)
            where kind is { } look ? StackProposal.Serves(definition, look) : isLaid
            select new Choice(
                $"{layer.Name}|{pass.Pass}|{kind}",
                $"{layer.Name} · {definition?.TradeName ?? pass.Pass}",
                kind switch
                {
                    null => "Lay in",
                    LookKind.Glow => "Glow of",
                    LookKind.Fog => "Fog by",
                    LookKind.Focus => "Focus by",
                    LookKind.Relight => "Relight by",
                    _ => "Motion blur by",
                }
            ),
        ];

    /// <summary>A strip of a pass; null when there is none, or its files have not come.</summary>
    public StackStrip? StripOf(ShotView view, string key)
    {
        string[] parts = key.Split('|');
        if (
            parts.Length != 3
            || OutputOf(view, parts[0], parts[1]) is not { } output
            || StoredIn(view, output) is not { IsDefault: false } stored
            || output.Passes.First(p => p.Pass == parts[1]) is not { } pass
        )
        {
            return null;
        }

        return Enum.TryParse(parts[2], out LookKind kind)
            ? StackProposal.LookOf(view.Seen, output, pass, stored, kind)
            : StackProposal.StripOf(view.Seen, output, pass, stored);
    }

    /// <summary>What can weigh a strip: mattes, alpha, ids and names, each with its mask; each output's header is read once.</summary>
    public async Task<ImmutableArray<(Choice Choice, StackMask Mask)>> MasksAsync(ShotView view, CancellationToken cancel)
    {
        var found = ImmutableArray.CreateBuilder<(Choice, StackMask)>();
        foreach (PlannedOutput output in view.Outputs)
        {
            ImmutableArray<string>? read = null;
            foreach (PassPlan pass in output.Passes)
            {
                if (await MaskNamesAsync(view, output, pass, cancel) is not { IsEmpty: false } names)
                {
                    continue;
                }

                ImmutableArray<string> stored = read ??= StoredIn(view, output);
                if (!stored.IsDefault)
                {
                    found.AddRange(names.Select(n => (n, MaskOf(output, pass, stored, n.Key))).Where(m => m.Item2 is not null)!);
                }
            }
        }

        return found.ToImmutable();
    }

    /// <summary>What a pass has to weigh by, as choices whose keys are <c>layer|pass|kind|which</c>; empty for one that has
    /// nothing.</summary>
    private async Task<ImmutableArray<Choice>> MaskNamesAsync(ShotView view, PlannedOutput output, PassPlan pass, CancellationToken cancel)
    {
        string layer = output.Layer.Name,
            key = $"{layer}|{pass.Pass}";
        PassDefinition? definition = view.Plan.Catalogue.Find(pass.Pass);
        string name = $"{layer} · {definition?.TradeName ?? pass.Pass}";
        return definition switch
        {
            { Kind: PassKind.Mask or PassKind.Modulate } =>
            [
                .. pass.Channels.Keys.Select(c => new Choice($"{key}|{ByChannel}|{c}", $"{layer} · {c}", "Channels")),
            ],
            { Kind: PassKind.Combined } =>
            [
                .. pass
                    .Channels.Keys.Where(ChannelNames.IsAlpha)
                    .Select(c => new Choice($"{key}|{ByChannel}|{c}", $"{layer} · alpha", "Channels")),
            ],
            not null when definition.Has(PassMeasures.ObjectIds) =>
            [
                .. view.Plan.Items.Where(i => i.Id is not null).Select(i => new Choice($"{key}|{ById}|{i.Id}", $"{name}: {i.Name}", "Ids")),
            ],
            not null when definition.Has(PassMeasures.Cryptomatte) =>
            [
                .. (await NamesAsync(view, layer, pass.Pass, cancel)).Select(n => new Choice(
                    $"{key}|{ByName}|{n}",
                    $"{name}: {n}",
                    "Names"
                )),
            ],
            _ => [],
        };
    }

    /// <summary>The mask of a choice; null when there is none.</summary>
    public StackMask? MaskOf(ShotView view, string key) =>
        key.Split('|', 3) is [var layer, var name, _]
        && OutputOf(view, layer, name) is { } output
        && StoredIn(view, output) is { IsDefault: false } stored
            ? MaskOf(output, output.Passes.First(p => p.Pass == name), stored, key)
            : null;

    private static StackMask? MaskOf(PlannedOutput output, PassPlan pass, ImmutableArray<string> stored, string key)
    {
        if (key.Split('|', 4) is not [_, _, var kind, var which])
        {
            return null;
        }

        string source = output.Name.ToString();
        string[] names = StackProposal.StoredNames(output, pass, stored);
        return kind switch
        {
            ByChannel when StoredName(output, which, stored) is { } channel => new StackMask(source, channel),
            ById when names.Length > 0 && double.TryParse(which, CultureInfo.InvariantCulture, out double id) => new StackMask(
                source,
                names[0]
            )
            {
                Id = id,
            },
            ByName when names.Length > 0 => new StackMask(source, Prefix(names[0])) { Named = which },
            _ => null,
        };
    }

    /// <summary>The sequences and stills in a folder below a root.</summary>
    public ImmutableArray<Choice> Plates(ShotView view, string? root, string? folder, bool isKeeper, out string? problem)
    {
        (StoragePath? path, problem) = view.Ground.Resolve(root, folder, isKeeper);
        if (path is null)
        {
            return [];
        }

        try
        {
            string[] files = [.. path.Entries().Where(e => e.Stamp.Kind == FileKind.Regular).Select(e => e.Name).Where(IsPicture)];
            return
            [
                .. SequenceFinder
                    .Find(files)
                    .Take(MostPlates)
                    .Select(s => new Choice(
                        $"{root}|{(path.Relative.Length > 0 ? path.Relative + "/" : "")}{s.Name}",
                        s.HasNoFrameNumber ? s.Name.ToString() : $"{s.Name} ({s.Frames})",
                        path.Relative
                    )),
            ];
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            problem = $"The folder {StorageException.ReasonOf(e)}.";
            return [];
        }
    }

    /// <summary>A strip of a sequence under a root, with the rate and channels that its first file says.</summary>
    /// <exception cref="ImageException">It is not there or holds no colour; the message says which.</exception>
    public StackStrip PlateOf(ShotView view, string key, bool isKeeper)
    {
        string[] parts = key.Split('|', 2);
        if (parts.Length != 2)
        {
            throw new ImageException(key, 0, "there is no such storage root");
        }

        StoragePath top = TopOf(view, parts[0], parts[1], isKeeper);
        FrameName name = FrameName.Read(parts[1]);
        FrameSet frames = FramesOf(top, name);
        string first = name.At(frames.IsEmpty ? 0 : frames.First);
        if (!top.TryAt(first, out StoragePath? path, out _) || FactsReader.Header(path, limits) is not { } header)
        {
            throw new ImageException(parts[1], 0, "there is no such file");
        }

        string[] names = [.. header.Channels.Select(c => c.Name)],
            colour = StackProposal.ColourOf(names);
        if (colour.Length == 0)
        {
            throw new ImageException(parts[1], 0, header.Problem ?? "it has no channel of colour");
        }

        string? alpha = names.FirstOrDefault(n => ChannelNames.IsAlpha(n) && !n.Contains('.'));
        return new StackStrip
        {
            Name = Path.GetFileName(name.Prefix).TrimEnd('.', '_', '-') is { Length: > 0 } plain ? plain : Path.GetFileName(parts[1]),
            Root = parts[0],
            Source = parts[1],
            Channels = alpha is null ? colour : [.. colour, alpha],
            Alpha =
                alpha is null ? AlphaMode.None
                : header.Format == "exr" ? AlphaMode.Premultiplied
                : AlphaMode.Straight,
            FrameRate = header.Parts.FirstOrDefault()?.FrameRate,
            Hold = name.Padding > 0 && frames.IsStill ? frames.First : null,
        };
    }

    /// <summary>The frames that the files of a strip have; null when that cannot be known.</summary>
    public FrameSet? FramesOf(ShotView view, StackStrip strip)
    {
        try
        {
            FrameName name = FrameName.Read(strip.Source);
            return name.Padding == 0 ? null : FramesOf(FolderOf(view, strip), name);
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    private static FrameSet FramesOf(StoragePath top, FrameName name)
    {
        string folder = Path.GetDirectoryName(name.Prefix) ?? "";
        return name.Padding > 0 && top.TryAt(folder, out StoragePath? path, out _) && path.IsFolder
            ? FrameSet.From(path.Entries().Select(e => name.Match(folder.Length > 0 ? $"{folder}/{e.Name}" : e.Name)?.Frame).OfType<int>())
            : FrameSet.Empty;
    }

    private static bool IsPicture(string file) => IntakeFile.FormatOf(file) is "exr" or "png" or "tiff" or "jpeg" or "tga";

    private static PlannedOutput? OutputOf(ShotView view, string layer, string pass) =>
        view.Outputs.FirstOrDefault(o => o.Layer.Name == layer && o.Passes.Any(p => p.Pass == pass));

    private static string? StoredName(PlannedOutput output, string planned, ImmutableArray<string> stored) =>
        output.Held is { } held ? held.Match(stored).FirstOrDefault(m => m.Planned == planned).Stored
        : stored.Contains(planned) ? planned
        : null;

    /// <summary>The channels that an output's first file has; default where none has come.</summary>
    private ImmutableArray<string> StoredIn(ShotView view, PlannedOutput output) =>
        view.Folder is { } folder && FactsReader.Header(folder, output, limits) is { } header
            ? [.. header.Channels.Select(c => c.Name)]
            : default;

    /// <summary>The names in the Cryptomatte of a pass, at the frame that is looked at; none where it cannot be read.</summary>
    private async Task<ImmutableArray<string>> NamesAsync(ShotView view, string layer, string pass, CancellationToken cancel)
    {
        try
        {
            return
                view.Selected.Frame is { } frame
                && await pictures.FindAsync(view, new PictureAddress(layer, pass, frame), cancel) is { } seen
                ? [.. (await pictures.MatteNamesAsync(seen, cancel)).Values.Order(StringComparer.Ordinal)]
                : [];
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            return [];
        }
    }

    /// <summary>What the channels of a Cryptomatte begin with: <c>CryptoObject</c> of <c>CryptoObject00.R</c>.</summary>
    private static string Prefix(string channel) => channel[..^2].TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9');
}
