using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Planning.Model;

/// <summary>The show a plan belongs to, with what holds for all its shots.</summary>
public sealed record ShowPlan
{
    private static readonly ConditionalWeakTable<ShowPlan, PassCatalogue> Catalogues = [];

    /// <summary>Short code, used in paths.</summary>
    public required string Code { get; init; }

    /// <summary>Name for people.</summary>
    public string Name { get; init; } = "";

    /// <summary>Colour space of colour passes, such as lin_rec709; null for scene-linear without more said.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? ColourSpace { get; init; }

    /// <summary>Name template that new layers get.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Template { get; init; }

    /// <summary>Padding that new layers get.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? Padding { get; init; }

    /// <summary>How versions are written: v, then one 0 per digit, such as v000.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? VersionStyle { get; init; }

    /// <summary>Passes that the show adds to the catalogue.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<PassAddition>? Passes { get; init; }

    /// <summary>Aliases that the show adds: alias to pass key.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, string>? Aliases { get; init; }

    /// <summary>What the show changes about rules, by rule id.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, RuleSetting>? Rules { get; init; }

    /// <summary>Render settings of every layer that does not say otherwise, by name.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, string>? Settings { get; init; }

    /// <summary>Machines that render at once; for estimates.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? Machines { get; init; }

    /// <summary>What a person confirms before a render; null for the list that ships.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<string>? Preflight { get; init; }

    /// <summary>Whether nothing is sent to the farm before the whole preflight list is confirmed.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool PreflightGate { get; init; }

    /// <summary>Whether no crate is sealed before the whole preflight list is confirmed.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool PreflightSeals { get; init; }

    /// <summary>The catalogue with the show's additions.</summary>
    [JsonIgnore]
    public PassCatalogue Catalogue =>
        Passes is null && Aliases is null
            ? PassCatalogue.Shipped
            : Catalogues.GetValue(
                this,
                show => PassCatalogue.Shipped.With((show.Passes ?? []).Select(p => p.ToDefinition()), show.Aliases ?? [])
            );

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, PlanDocument.Options.Of<ShowPlan>());

    /// <summary>Settings as they were kept, however they came to be there: what is wrong with them is left out.</summary>
    /// <param name="json">The document, or null when nothing was settled.</param>
    /// <param name="code">Code of the show.</param>
    /// <param name="name">Its name.</param>
    public static ShowPlan ReadKept(string? json, string code, string name)
    {
        ShowPlan show;
        try
        {
            show = json is null ? new ShowPlan { Code = code } : PlanNames.Resolve(DocumentJson.Read<ShowPlan>(json, PlanDocument.Options));
        }
        catch (JsonException)
        {
            show = new ShowPlan { Code = code };
        }

        show = show with { Code = code, Name = name };
        string[] wrong = [.. PlanValidation.Check(show).Select(p => p.Field)];
        bool IsWrong(string field) => wrong.Any(w => w == field || w.StartsWith(field + "[", StringComparison.Ordinal));
        return show with
        {
            ColourSpace = IsWrong("show.colourSpace") ? null : show.ColourSpace,
            Template = IsWrong("show.template") ? null : show.Template,
            Padding = IsWrong("show.padding") ? null : show.Padding,
            VersionStyle = IsWrong("show.versionStyle") ? null : show.VersionStyle,
            Passes = IsWrong("show.passes") ? null : show.Passes,
            Aliases = IsWrong("show.aliases") ? null : show.Aliases,
            Rules = IsWrong("show.rules") ? null : show.Rules,
            Settings = IsWrong("show.settings") ? null : show.Settings,
            Machines = IsWrong("show.machines") ? null : show.Machines,
            Preflight = IsWrong("show.preflight") ? null : show.Preflight,
        };
    }

    /// <summary>
    /// These settings with the passes and aliases that another plan's show adds and this one lacks: nothing that is brought in becomes
    /// unknown.
    /// </summary>
    public ShowPlan WithAdditionsOf(ShowPlan other)
    {
        PassAddition[] passes = [.. (other.Passes ?? []).Where(p => !Catalogue.Passes.Any(known => known.Key == p.Key))];
        KeyValuePair<string, string>[] aliases = [.. (other.Aliases ?? []).Where(a => Aliases?.ContainsKey(a.Key) != true)];
        return this with
        {
            Passes = passes.Length == 0 ? Passes : [.. Passes ?? [], .. passes],
            Aliases = aliases.Length == 0 ? Aliases : new OrderedDictionary<string, string>((Aliases ?? []).Concat(aliases)),
        };
    }

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}
