using System.Collections.Immutable;
using System.Diagnostics.CodeAnalysis;
using static DuneCrate.Core.Passes.ChannelType;
using static DuneCrate.Core.Passes.PassKind;

namespace DuneCrate.Core.Passes;

/// <summary>
/// The passes that the product knows, as data that plan, rules, stack and slip all read. The values are common practice of the
/// trade. To add a pass, add a line to <see cref="Shipped"/>. Immutable; safe to share between threads.
/// </summary>
public sealed class PassCatalogue
{
    /// <summary>The catalogue that ships with the product.</summary>
    public static readonly PassCatalogue Shipped = new([
        Pass(
            "beauty",
            "beauty",
            "rgba master main",
            Combined,
            "R G B A",
            ChannelType.Half,
            true,
            "≥ 0",
            "over",
            "The lead pass of a layer unless another is named."
        ),
        Pass("alpha", "alpha", "a coverage", Mask, "A", ChannelType.Half, true, "0..1", "none", ""),
        Pass("diffuse", "diffuse", "diff", Light, "R G B", ChannelType.Half, true, "≥ 0", "plus", "Direct and indirect together."),
        Pass("diffuse_direct", "direct diffuse", "diff_dir direct_diffuse", Light, "R G B", ChannelType.Half, true, "≥ 0", "plus", ""),
        Pass(
            "diffuse_indirect",
            "indirect diffuse",
            "diff_ind indirect_diffuse",
            Light,
            "R G B",
            ChannelType.Half,
            true,
            "≥ 0",
            "plus",
            ""
        ),
        Pass(
            "specular",
            "specular",
            "spec",
            Light,
            "R G B",
            ChannelType.Half,
            true,
            "≥ 0",
            "plus",
            "Worth having as soon as any surface is glossy rather than mirror-sharp."
        ),
        Pass("specular_direct", "direct specular", "spec_dir", Light, "R G B", ChannelType.Half, true, "≥ 0", "plus", ""),
        Pass("specular_indirect", "indirect specular", "spec_ind", Light, "R G B", ChannelType.Half, true, "≥ 0", "plus", ""),
        Pass(
            "reflection",
            "reflection",
            "refl rfl",
            Light,
            "R G B",
            ChannelType.Half,
            true,
            "≥ 0",
            "plus",
            "A character's reflection alone also comes this way, with alpha."
        ),
        Pass(
            "transmission",
            "refraction",
            "refr refraction trans",
            Light,
            "R G B",
            ChannelType.Half,
            true,
            "≥ 0",
            "plus",
            "Everything seen through glass or water is in here, and is missing from the other passes of what lies behind."
        ),
        Pass(
            "subsurface",
            "subsurface scattering",
            "sss",
            Light,
            "R G B",
            ChannelType.Half,
            true,
            "≥ 0",
            "plus",
            "Leave out where no material scatters."
        ),
        Pass(
            "emission",
            "emission",
            "emit self_illumination",
            Light,
            "R G B",
            ChannelType.Half,
            true,
            "≥ 0",
            "plus",
            "Sits above the beauty when used for glow; emitters behind glass are missing from it."
        ),
        Pass("volume", "volume", "atmosphere fog_light", Light, "R G B", ChannelType.Half, true, "≥ 0", "plus", ""),
        Pass("coat", "coat", "clearcoat", Light, "R G B", ChannelType.Half, true, "≥ 0", "plus", ""),
        Pass(
            "lighting",
            "direct lighting",
            "direct light",
            Light,
            "R G B",
            ChannelType.Half,
            true,
            "≥ 0",
            "plus",
            "Coarse family: lighting + gi + reflection + transmission + specular + emission."
        ),
        Pass("gi", "global illumination", "indirect", Light, "R G B", ChannelType.Half, true, "≥ 0", "plus", ""),
        Pass(
            "background",
            "background",
            "bg env environment sky",
            Light,
            "R G B",
            ChannelType.Half,
            true,
            "≥ 0",
            "plus",
            "What the camera sees where it sees no surface."
        ),
        Pass(
            "light_group.*",
            "light group",
            "lg",
            Light,
            "R G B",
            ChannelType.Half,
            true,
            "≥ 0",
            "plus",
            "One per lamp or set of lamps; they sum to the beauty among themselves."
        ),
        Pass(
            "albedo",
            "flat colour",
            "flat_colour diffuse_colour",
            Factor,
            "R G B",
            ChannelType.Half,
            true,
            "0..1",
            "multiply",
            "Albedo × irradiance = diffuse."
        ),
        Pass("irradiance", "irradiance", "raw_light unshaded", Factor, "R G B", ChannelType.Half, true, "≥ 0", "multiply", ""),
        Pass(
            "ao",
            "ambient occlusion",
            "occ occlusion ambient_occlusion",
            Modulate,
            "R G B",
            ChannelType.Half,
            true,
            "0..1",
            "multiply",
            "White background, no alpha of its own; transparent and cut-out objects darken it wrongly; render it with global illumination off."
        ),
        Pass(
            "shadow",
            "shadow",
            "shd shadow_cast",
            Modulate,
            "R G B",
            ChannelType.Half,
            true,
            "0..1",
            "multiply",
            "White where unshadowed; lies below the character that casts it."
        ),
        Pass(
            "depth",
            "depth",
            "z zdepth z_depth",
            Data,
            "Z",
            Float,
            false,
            "> 0, scene units from the camera",
            "none",
            "Half runs out of steps; a filtered edge is a distance where nothing is."
        ),
        Pass(
            "normal",
            "normal",
            "n normals",
            Data,
            "X Y Z",
            ChannelType.Half,
            false,
            "unit length",
            "none",
            "World or camera space must be said."
        ),
        Pass("position", "world position", "p pos point", Data, "X Y Z", Float, false, "any", "none", ""),
        Pass(
            "uv",
            "texture coordinates",
            "st",
            Data,
            "U V",
            Float,
            false,
            "0..1 (tiles: beyond)",
            "none",
            "Half cannot address a 4K texture."
        ),
        Pass(
            "motion",
            "motion vectors",
            "velocity mv vector",
            Data,
            "X Y",
            ChannelType.Half,
            false,
            "pixels per frame",
            "none",
            "With it, blur must not also be baked into the beauty."
        ),
        Pass(
            "object_id",
            "object id",
            "oid",
            Identity,
            "Y",
            UInt8,
            false,
            "whole numbers from the plan",
            "none",
            "The number on the object and the number asked of the pass must agree."
        ),
        Pass(
            "material_id",
            "material id",
            "mid matid",
            Identity,
            "R G B",
            UInt8,
            false,
            "one flat colour per material",
            "none",
            "Two materials never share a colour."
        ),
        Pass(
            "matte.*",
            "matte",
            "mask rgb_matte",
            Mask,
            "R G B",
            UInt8,
            true,
            "0..1",
            "none",
            "Objects that pass in front must be holdouts or the mask is wrong."
        ),
        Pass(
            "cryptomatte.*",
            "Cryptomatte",
            "crypto",
            Identity,
            "00.R 00.G 00.B 00.A 01.R 01.G 01.B 01.A",
            Float,
            false,
            "ids are hash bits, coverage 0..1",
            "none",
            "Cryptomatte specification 1.2: 32-bit float only, lossless only, manifest in the header."
        ),
        Pass("wireframe", "wireframe", "wire", Look, "R G B", UInt8, true, "0..1", "over", ""),
    ]);

    private readonly Dictionary<string, PassDefinition> _byKey;
    private readonly ImmutableArray<(ImmutableArray<string> Words, PassDefinition Pass)> _aliases;

    /// <summary>Makes a catalogue of the given passes.</summary>
    /// <exception cref="ArgumentException">Two passes share a key.</exception>
    public PassCatalogue(ImmutableArray<PassDefinition> passes)
    {
        Passes = passes;
        _byKey = passes.ToDictionary(p => p.Stem, StringComparer.Ordinal);
        _aliases =
        [
            .. passes
                .SelectMany(p => p.Aliases.Append(p.Stem).Select(alias => (Words: Words(alias), Pass: p)))
                .OrderByDescending(a => a.Words.Length)
                .ThenByDescending(a => a.Words.Sum(w => w.Length)),
        ];
    }

    /// <summary>Every pass, in the order people expect.</summary>
    public ImmutableArray<PassDefinition> Passes { get; }

    /// <summary>A short text that differs for catalogues that name passes or aliases differently.</summary>
    public string Signature =>
        field ??= System
            .IO.Hashing.XxHash3.HashToUInt64(
                System.Text.Encoding.UTF8.GetBytes(string.Join('|', Passes.Select(p => $"{p.Key}:{p.Kind}:{string.Join(',', p.Aliases)}")))
            )
            .ToString("x16", System.Globalization.CultureInfo.InvariantCulture);

    /// <summary>This catalogue with more passes (one of a known key replaces it) and more aliases (alias to key; unknown keys are passed over).</summary>
    public PassCatalogue With(IEnumerable<PassDefinition> additions, IEnumerable<KeyValuePair<string, string>> aliases)
    {
        var added = additions.DistinctBy(p => p.Stem).ToDictionary(p => p.Stem);
        ILookup<string, string> more = aliases.ToLookup(a => a.Value, a => a.Key);
        return new PassCatalogue([
            .. Passes
                .Where(p => !added.ContainsKey(p.Stem))
                .Concat(added.Values)
                .Select(p => p with { Aliases = [.. p.Aliases, .. more[p.Key]] }),
        ]);
    }

    private static PassDefinition Pass(
        string key,
        string name,
        string aliases,
        PassKind kind,
        string channels,
        ChannelType type,
        bool filtered,
        string range,
        string operation,
        string remark
    ) => new(key, name, [.. aliases.Split(' ')], kind, [.. channels.Split(' ')], type, filtered, range, operation, remark);

    /// <summary>The definition of a pass key as plans write it; <c>matte.lamps</c> finds <c>matte.*</c>.</summary>
    public bool TryFind(string key, [NotNullWhen(true)] out PassDefinition? pass)
    {
        if (_byKey.TryGetValue(key, out pass) && !pass.IsFamily)
        {
            return true;
        }

        int dot = key.IndexOf('.');
        return dot > 0 && dot < key.Length - 1 && _byKey.TryGetValue(key[..dot], out pass) && pass.IsFamily;
    }

    /// <summary>The definition of a pass key, or null.</summary>
    public PassDefinition? Find(string key) => TryFind(key, out PassDefinition? pass) ? pass : null;

    /// <summary>
    /// The key of the pass that a channel most likely belongs to, by OpenEXR's naming (<c>R G B A</c> and <c>Z</c> at the root,
    /// <c>pass.R</c> in a layer) and the catalogue's aliases; null when nothing fits.
    /// </summary>
    public string? PassOfChannel(string channel)
    {
        int dot = channel.LastIndexOf('.');
        if (dot < 0)
        {
            return channel switch
            {
                "R" or "G" or "B" or "A" or "Y" => "beauty",
                "Z" => "depth",
                _ => FindByAlias(channel)?.Stem,
            };
        }

        string layer = channel[..dot];
        if (TryFind(layer, out _))
        {
            return layer;
        }

        return FindByAlias(layer) is not { } pass ? null
            : pass.IsFamily ? $"{pass.Stem}.{Remainder(layer, pass)}"
            : pass.Key;
    }

    /// <summary>The pass whose key or alias stands in <paramref name="name"/> as whole words, longest first; null without one.</summary>
    public PassDefinition? FindByAlias(string name)
    {
        ImmutableArray<string> words = Words(name);
        foreach ((ImmutableArray<string> alias, PassDefinition pass) in _aliases)
        {
            if (Contains(words, alias))
            {
                return pass;
            }
        }

        return null;
    }

    private string Remainder(string layer, PassDefinition pass)
    {
        ImmutableArray<string> words = Words(layer);
        ImmutableArray<string> alias = _aliases.First(a => a.Pass == pass && Contains(words, a.Words)).Words;
        string rest = string.Join('_', words.Where(w => !alias.Contains(w) && !w.All(char.IsAsciiDigit)));
        return rest.Length > 0 ? rest : "all";
    }

    private static bool Contains(ImmutableArray<string> words, ImmutableArray<string> alias)
    {
        for (int at = 0; at + alias.Length <= words.Length; at++)
        {
            if (words.AsSpan(at, alias.Length).SequenceEqual(alias.AsSpan()))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Splits on <c>. _ -</c>, on case changes and between letters and digits; lower case.</summary>
    internal static ImmutableArray<string> Words(string name)
    {
        var words = ImmutableArray.CreateBuilder<string>();
        int start = 0;
        for (int i = 0; i <= name.Length; i++)
        {
            bool separator = i == name.Length || name[i] is '.' or '_' or '-' or ' ';
            bool boundary =
                !separator
                && i > start
                && ((char.IsUpper(name[i]) && char.IsLower(name[i - 1])) || (char.IsDigit(name[i]) != char.IsDigit(name[i - 1])));
            if (separator || boundary)
            {
                if (i > start)
                {
                    words.Add(name[start..i].ToLowerInvariant());
                }

                start = separator ? i + 1 : i;
            }
        }

        return words.ToImmutable();
    }
}
