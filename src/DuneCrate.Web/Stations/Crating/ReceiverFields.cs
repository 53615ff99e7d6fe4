using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Shots.Crating;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Stations.Crating;

/// <summary>A receiver's card in fields, as it is kept or as it was typed.</summary>
public sealed class ReceiverFields
{
    /// <summary>Kinds of pass whose sample type a receiver chooses.</summary>
    public static readonly ImmutableArray<PassKind> Kinds =
    [
        .. Enum.GetValues<PassKind>().Where(k => k is not (PassKind.Data or PassKind.Identity)),
    ];

    private const int MostPairs = 200;

    private readonly Dictionary<string, string> _texts = [];

    /// <summary>Key of the receiver; 0 for a new one.</summary>
    public int Id { get; private init; }

    /// <summary>Groups by layer.</summary>
    public IReadOnlyList<(string Name, string Value)> Groups { get; private init; } = [];

    /// <summary>Short names by pass.</summary>
    public IReadOnlyList<(string Name, string Value)> Shorts { get; private init; } = [];

    /// <summary>Places where crates will stand.</summary>
    public IReadOnlyList<(string Name, string Value)> Sites { get; private init; } = [];

    /// <summary>What is wrong, or null.</summary>
    public string? Problem { get; private set; }

    /// <summary>The text of a field.</summary>
    public string this[string field] => _texts.GetValueOrDefault(field, "");

    /// <summary>Whether a box is ticked.</summary>
    public bool Has(string field) => this[field] == "true";

    /// <summary>An empty card.</summary>
    public static ReceiverFields Blank { get; } = Of(0, CrateRecipe.AsItIs);

    /// <summary>The card of a kept receiver.</summary>
    public static ReceiverFields From(ReceiverRow row)
    {
        ReceiverFields fields = Of(row.Id, row.Wants());
        (fields._texts["name"], fields._texts["contact"], fields._texts["note"]) = (row.Name, row.Contact, row.Note);
        return fields;
    }

    /// <summary>The card as it was typed.</summary>
    public static ReceiverFields From(IFormCollection form)
    {
        var fields = new ReceiverFields
        {
            Id = int.TryParse(form["id"], NumberStyles.None, CultureInfo.InvariantCulture, out int id) ? id : 0,
            Groups = Pairs(form, "group.layer", "group"),
            Shorts = Pairs(form, "short.pass", "short"),
            Sites = Pairs(form, "site", "site.prefix"),
        };
        foreach (string field in form.Keys)
        {
            fields._texts[field] = form[field].ToString().Trim();
        }

        return fields;
    }

    /// <summary>The receiver that the fields describe; null when one of them is wrong, and then <see cref="Problem"/> says which.</summary>
    public ReceiverRow? Read(int showId)
    {
        try
        {
            Problem =
                this["name"].Length == 0
                    ? "A receiver needs a name."
                    : TextLimits.Problem("The name", this["name"])
                        ?? TextLimits.Problem("The contact", this["contact"])
                        ?? TextLimits.Problem("The note", this["note"]);
            string recipe = Problem is null ? Recipe().Write() : "";
            CrateRecipe.Read(Problem is null ? recipe : "{}");
            return Problem is not null
                ? null
                : new ReceiverRow
                {
                    Id = Id,
                    ShowId = showId,
                    Name = this["name"],
                    Contact = this["contact"],
                    Note = this["note"],
                    Recipe = recipe,
                };
        }
        catch (FormatException e)
        {
            Problem = e.Message;
            return null;
        }
    }

    /// <summary>Says what is wrong.</summary>
    public ReceiverFields Saying(string problem)
    {
        Problem = problem;
        return this;
    }

    private CrateRecipe Recipe()
    {
        var types = new OrderedDictionary<PassKind, ChannelType>();
        foreach (PassKind kind in Kinds)
        {
            if (ChannelTypes.Find(this[$"type.{kind}"]) is { } type)
            {
                types[kind] = type;
            }
        }

        return new CrateRecipe
        {
            Receiver = this["name"],
            Files = Choice<RecipeFiles>("files"),
            Compression = OrNull("compression"),
            Types = types.Count > 0 ? types : null,
            Layout = OrNull("layout"),
            Groups = Groups.Count > 0 ? Map(Groups) : null,
            Short = Shorts.Count > 0 ? Map(Shorts) : null,
            FirstFrame = Number("firstFrame", "The first frame"),
            Padding = Number("padding", "The number of digits"),
            Window = Choice<RecipeWindow>("window"),
            Alpha = this["alpha"].Length > 0 ? Choice<AlphaMode>("alpha") : null,
            Only = Names("only"),
            Drop = Names("drop"),
            Header =
                Has("header.frameRate") || Has("header.camera") || Has("header.colourSpace")
                    ? new RecipeHeader(Has("header.frameRate"), Has("header.camera"), Has("header.colourSpace"))
                    : null,
            Sites = Sites.Count > 0 ? [.. Sites.Select(s => new RecipeSite(s.Name, s.Value))] : null,
        };
    }

    private static ReceiverFields Of(int id, CrateRecipe recipe)
    {
        static string Number(int? number) => number?.ToString(CultureInfo.InvariantCulture) ?? "";
        static (string, string)[] Rows(OrderedDictionary<string, string>? map) => [.. (map ?? []).Select(m => (m.Key, m.Value))];
        var fields = new ReceiverFields
        {
            Id = id,
            Groups = Rows(recipe.Groups),
            Shorts = Rows(recipe.Short),
            Sites = [.. (recipe.Sites ?? []).Select(s => (s.Site, s.Prefix))],
        };
        foreach (
            (string field, string text) in new[]
            {
                ("files", $"{recipe.Files}"),
                ("compression", recipe.Compression ?? ""),
                ("layout", recipe.Layout ?? ""),
                ("firstFrame", Number(recipe.FirstFrame)),
                ("padding", Number(recipe.Padding)),
                ("window", $"{recipe.Window}"),
                ("alpha", $"{recipe.Alpha}"),
                ("only", string.Join(' ', recipe.Only ?? [])),
                ("drop", string.Join(' ', recipe.Drop ?? [])),
                ("header.frameRate", recipe.Header?.FrameRate == true ? "true" : ""),
                ("header.camera", recipe.Header?.Camera == true ? "true" : ""),
                ("header.colourSpace", recipe.Header?.ColourSpace == true ? "true" : ""),
            }
        )
        {
            fields._texts[field] = text;
        }

        foreach ((PassKind kind, ChannelType type) in recipe.Types ?? [])
        {
            fields._texts[$"type.{kind}"] = type.Name();
        }

        return fields;
    }

    private static OrderedDictionary<string, string> Map(IEnumerable<(string Name, string Value)> pairs)
    {
        var map = new OrderedDictionary<string, string>();
        foreach ((string name, string value) in pairs)
        {
            map[name] = value;
        }

        return map;
    }

    private static (string, string)[] Pairs(IFormCollection form, string first, string second) =>
        [
            .. form[first]
                .Zip(form[second], (a, b) => (Name: a?.Trim() ?? "", Value: b?.Trim() ?? ""))
                .Where(p => p.Name.Length + p.Value.Length > 0)
                .Take(MostPairs),
        ];

    private string? OrNull(string field) => this[field].Length > 0 ? this[field] : null;

    private T Choice<T>(string field)
        where T : struct, Enum => Enum.TryParse(this[field], out T value) && Enum.IsDefined(value) ? value : default;

    private int? Number(string field, string what) =>
        this[field].Length == 0 ? null
        : int.TryParse(this[field], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int number) ? number
        : throw new FormatException($"{what} is a whole number, such as 1001.");

    private ImmutableArray<string>? Names(string field) =>
        this[field].Split([' ', ','], StringSplitOptions.RemoveEmptyEntries) is { Length: > 0 } names ? [.. names] : null;
}
