using System.Collections.Immutable;
using DuneCrate.Crates;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Web.Stations.Crating;

/// <summary>
/// What is chosen for one crate on top of what its receiver wants. All of it stands in the address, so that it can be sent and gone back
/// to.
/// </summary>
/// <param name="Layers">Render layers that go in, separated by commas; null for all.</param>
/// <param name="Frames">Frames as they were rendered; null for all.</param>
/// <param name="Drop">Passes that stay out, separated by commas.</param>
/// <param name="Window">Which pixels are stored; null for what the receiver wants.</param>
/// <param name="Compression">The compression; null for what the receiver wants.</param>
/// <param name="Half">Kinds of passes that become half, separated by commas.</param>
/// <param name="Named">"shot" for files whose names begin with the shot; null for names as the receiver wants them.</param>
public sealed record CrateChoices(
    string? Layers,
    string? Frames,
    string? Drop,
    string? Window,
    string? Compression,
    string? Half,
    string? Named
)
{
    /// <summary>What <see cref="Named"/> says when names begin with the shot.</summary>
    public const string ByShot = "shot";

    private const string UsualLayout = "{layer}/{short}/{shot}_{short}.{frame}";

    /// <summary>Nothing.</summary>
    public static readonly CrateChoices None = new(null, null, null, null, null, null, null);

    /// <summary>The choices as the end of an address: <c>&amp;layers=sub&amp;frames=1001-1010</c>.</summary>
    public string Query =>
        string.Concat(
            new[]
            {
                ("layers", Layers),
                ("frames", Frames),
                ("drop", Drop),
                ("window", Window),
                ("compression", Compression),
                ("half", Half),
                ("named", Named),
            }
                .Where(c => !string.IsNullOrWhiteSpace(c.Item2))
                .Select(c => $"&{c.Item1}={Uri.EscapeDataString(c.Item2!)}")
        );

    /// <summary>Whether anything is chosen.</summary>
    public bool IsAny => Query.Length > 0;

    /// <summary>The layers that go in; null for all.</summary>
    public string[]? LayerList => Words(Layers) is { Length: > 0 } names ? names : null;

    /// <summary>The choices with a layer put in or taken out.</summary>
    public CrateChoices Turning(string layer, IReadOnlyCollection<string> all)
    {
        HashSet<string> chosen = [.. LayerList ?? [.. all]];
        if (!chosen.Remove(layer))
        {
            chosen.Add(layer);
        }

        return this with
        {
            Layers = chosen.Count == all.Count ? null : string.Join(',', all.Where(chosen.Contains)),
        };
    }

    /// <summary>A recipe with the choices.</summary>
    /// <exception cref="CrateRefusedException">One of them cannot be; the message says which.</exception>
    public CrateRecipe Over(CrateRecipe recipe)
    {
        FrameSet? frames = null;
        if (!string.IsNullOrWhiteSpace(Frames) && !FrameSet.TryParse(Frames, out frames, out string? wrong))
        {
            throw new CrateRefusedException($"Frames: {wrong}");
        }

        ImmutableArray<string> dropped = [.. (recipe.Drop ?? []).Concat(Words(Drop)).Distinct()];
        var types = new OrderedDictionary<PassKind, ChannelType>(recipe.Types ?? []);
        foreach (string kind in Words(Half))
        {
            types[Choice<PassKind>("half", kind)] = ChannelType.Half;
        }

        CrateRecipe chosen = recipe with
        {
            Layers = LayerList is { } layers ? [.. layers] : recipe.Layers,
            Frames = frames ?? recipe.Frames,
            Drop = dropped.IsEmpty ? null : dropped,
            Window = string.IsNullOrWhiteSpace(Window) ? recipe.Window : Choice<RecipeWindow>("window", Window),
            Compression = string.IsNullOrWhiteSpace(Compression) ? recipe.Compression : Compression,
            Layout = Named == ByShot ? WithShot(recipe.Layout) : recipe.Layout,
            Types = types.Count == 0 ? null : types,
        };
        return chosen.Problem is { } problem ? throw new CrateRefusedException($"It cannot be made so: {problem}.") : chosen;
    }

    /// <summary>The choices with what a saving needs.</summary>
    /// <param name="before">The recipe as it stands.</param>
    /// <param name="with">The recipe with which the saving is made.</param>
    public CrateChoices Taking(CrateRecipe before, CrateRecipe with) =>
        this with
        {
            Drop = Joined(Words(Drop).Concat((with.Drop ?? []).Except(before.Drop ?? []))),
            Window = with.Window == before.Window ? Window : with.Window.ToString(),
            Compression = with.Compression == before.Compression ? Compression : with.Compression,
            Half = Joined(
                Words(Half).Concat((with.Types ?? []).Except(before.Types ?? []).Select(t => t.Key.ToString().ToLowerInvariant()))
            ),
        };

    /// <summary>A layout whose file names begin with the shot.</summary>
    private static string WithShot(string? layout)
    {
        string own = layout ?? UsualLayout;
        int name = own.LastIndexOf('/') + 1;
        return own.AsSpan(name).Contains("{shot}", StringComparison.Ordinal) ? own : own.Insert(name, "{shot}_");
    }

    private static T Choice<T>(string field, string text)
        where T : struct, Enum =>
        Enum.TryParse(text, ignoreCase: true, out T value) && Enum.IsDefined(value)
            ? value
            : throw new CrateRefusedException($"{field}: '{text}' is none of {Foundation.Documents.Words.Choices(Enum.GetNames<T>())}.");

    private static string? Joined(IEnumerable<string> names) =>
        names.Distinct().ToArray() is { Length: > 0 } all ? string.Join(',', all) : null;

    private static string[] Words(string? text) =>
        (text ?? "").Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
}
