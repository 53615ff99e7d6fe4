using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Exr;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates.Recipes;

/// <summary>What a receiver wants. The document <c>dune-crate.recipe/1</c>; whatever is left out goes in as it is.</summary>
public sealed record CrateRecipe
{
    /// <summary>Name of the document's schema.</summary>
    public const string SchemaName = "dune-crate.recipe/1";

    /// <summary>Bytes that a document may have.</summary>
    public const long MostBytes = 1 << 20;

    /// <summary>The tokens of <see cref="Layout"/>.</summary>
    public static readonly IReadOnlyList<string> Tokens = ["show", "shot", "layer", "group", "short", "pass", "version", "frame"];

    private const int MostFrame = 99_999_999;

    /// <summary>The recipe that changes nothing.</summary>
    public static readonly CrateRecipe AsItIs = new();

    /// <summary>The schema.</summary>
    public string Schema { get; init; } = SchemaName;

    /// <summary>Who gets it; null when nobody is named.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Receiver { get; init; }

    /// <summary>How passes are put into files.</summary>
    public RecipeFiles Files { get; init; }

    /// <summary>Compression name as in OpenEXR, lower case; null for the files' own.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Compression { get; init; }

    /// <summary>Sample types by kind of pass. Data and identity keep theirs.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<PassKind, ChannelType>? Types { get; init; }

    /// <summary>Template of the paths, without extension; null for the usual layout.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Layout { get; init; }

    /// <summary>Groups by layer, such as foreground and background.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, string>? Groups { get; init; }

    /// <summary>Short names by pass.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, string>? Short { get; init; }

    /// <summary>Number that the shot's first frame gets; null for its own.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? FirstFrame { get; init; }

    /// <summary>Digits of frame numbers; null for the files' own.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? Padding { get; init; }

    /// <summary>Which pixels are stored.</summary>
    public RecipeWindow Window { get; init; }

    /// <summary>How colour and alpha go together; null for as they are.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public AlphaMode? Alpha { get; init; }

    /// <summary>The passes that go in; null for all.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<string>? Only { get; init; }

    /// <summary>Passes that stay out.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<string>? Drop { get; init; }

    /// <summary>The render layers that go in; null for all.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<string>? Layers { get; init; }

    /// <summary>The frames that go in, as they were rendered; null for all. Stills go in whatever it says.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameSet? Frames { get; init; }

    /// <summary>What is written into headers that lack it.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public RecipeHeader? Header { get; init; }

    /// <summary>Where the crate will stand.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<RecipeSite>? Sites { get; init; }

    /// <summary>Fields that this version does not know.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }

    /// <summary>Whether a pass goes in; names may end in <c>.*</c> for a family.</summary>
    public bool Takes(string pass)
    {
        bool IsNamed(string name) =>
            name == pass || (name.EndsWith(".*", StringComparison.Ordinal) && pass.StartsWith(name[..^1], StringComparison.Ordinal));
        return Only?.Any(IsNamed) != false && Drop?.Any(IsNamed) != true;
    }

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, CrateJson.Ahead.Of<CrateRecipe>()) + "\n";

    /// <summary>Reads a recipe.</summary>
    /// <exception cref="FormatException">It is no recipe, or asks for what cannot be; the message says what.</exception>
    public static CrateRecipe Read(string json)
    {
        try
        {
            var recipe = DocumentJson.Read<CrateRecipe>(json, CrateJson.Ahead);
            return recipe.Problem is { } wrong ? throw new FormatException($"The recipe cannot be used: {wrong}.") : recipe;
        }
        catch (DocumentException e)
        {
            throw new FormatException($"The recipe cannot be read. {DocumentJson.Problem(e)}", e);
        }
    }

    /// <summary>Fields that are not known, which may be misspelt; or null.</summary>
    [JsonIgnore]
    public string? Unknown => Extra is { Count: > 0 } extra ? Words.List([.. extra.Keys]) : null;

    /// <summary>What cannot be done of it, for people, without a stop; or null.</summary>
    [JsonIgnore]
    public string? Problem =>
        Schema != SchemaName ? $"its schema is '{Schema}', not {SchemaName}"
        : CompressionProblem is { } compression ? compression
        : TypesProblem is { } types ? types
        : Padding is < 1 or > PlanLimits.MaxPadding ? $"padding goes from 1 to {PlanLimits.MaxPadding}"
        : FirstFrame is < -MostFrame or > MostFrame ? $"firstFrame goes from -{MostFrame} to {MostFrame}"
        : Frames is { IsEmpty: true } ? "frames names none; leave the field out for all of them"
        : Layers is { Length: 0 } ? "layers names none; leave the field out for all of them"
        : Alpha == AlphaMode.None ? "alpha is premultiplied or straight; leave the field out for files as they are"
        : Layout is not null && !NameTemplate.TryParse(Layout, out _, out string? layout, Tokens) ? $"layout: {layout.TrimEnd('.')}"
        : PathsProblem("groups", Groups) ?? PathsProblem("short", Short) ?? SitesProblem;

    private string? CompressionProblem =>
        Compression is null ? null
        : ExrCompression.Find(Compression) is not { } found ? $"there is no compression '{Compression}'; use {Written}"
        : !found.IsWritten ? $"{Compression} is read here and not written; use {Written}"
        : null;

    private string? TypesProblem =>
        Types
            ?.Where(t => t.Value is not (ChannelType.Half or ChannelType.Float))
            .Select(t => $"types.{Words.Choice(t.Key)} is half or float, not {t.Value.Name()}")
            .FirstOrDefault();

    private static string Written => Words.Choices(ExrCompression.All.Where(c => c.IsWritten).Select(c => c.Name));

    private static string? PathsProblem(string field, OrderedDictionary<string, string>? names) =>
        names?.FirstOrDefault(n => n.Value.Length == 0 || NameProblem(n.Value) is not null) is { Key: not null } wrong
            ? $"{field}.{wrong.Key} is '{wrong.Value}', which {NameProblem(wrong.Value) ?? "is no name"}"
            : null;

    private static string? NameProblem(string name) => (StoragePath.Problem(name) ?? NameTemplate.CharacterProblem(name))?.TrimEnd('.');

    private string? SitesProblem =>
        Sites?.FirstOrDefault(s => s.Site.Length == 0 || s.Prefix.Length == 0) is not null
            ? "each of sites needs a site and a prefix"
            : null;
}
