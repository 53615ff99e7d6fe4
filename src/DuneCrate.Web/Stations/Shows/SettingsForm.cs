using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Model;
using DuneCrate.Store.Rows;
using Microsoft.Extensions.Primitives;

namespace DuneCrate.Web.Stations.Shows;

/// <summary>
/// The fields of a show's settings, as they stand or as somebody typed them, each with what is wrong with it: a text that is refused stays
/// in its field. Rows that are left empty are no rows.
/// </summary>
public sealed class SettingsForm
{
    private readonly Dictionary<string, string> _texts = [],
        _problems = [];

    private SettingsForm() { }

    /// <summary>Passes of the show's own, a row each.</summary>
    public IReadOnlyList<PassFields> Passes { get; private init; } = [];

    /// <summary>Aliases: alias and pass.</summary>
    public IReadOnlyList<PairFields> Aliases { get; private init; } = [];

    /// <summary>Render settings under names of the show's own: name and value.</summary>
    public IReadOnlyList<PairFields> OwnSettings { get; private init; } = [];

    /// <summary>Lines of the preflight list.</summary>
    public IReadOnlyList<string> Preflight { get; private init; } = [];

    /// <summary>The text of a field.</summary>
    public string this[string field] => _texts.GetValueOrDefault(field, "");

    /// <summary>What is wrong with a field or a row, such as <c>rate</c> or <c>pass[2]</c>; empty for nothing.</summary>
    public string Problem(string field) => _problems.GetValueOrDefault(field, "");

    /// <summary>Whether anything is wrong.</summary>
    public bool HasProblems => _problems.Count > 0;

    /// <summary>The field's name of a rule's severity.</summary>
    public static string FieldOf(Rule rule) => $"rule.{rule.Id}";

    /// <summary>The field's name of a rule's threshold.</summary>
    public static string FieldOf(Rule rule, RuleThreshold threshold) => $"rule.{rule.Id}.{threshold.Name}";

    /// <summary>The field's name of a render setting that ships.</summary>
    public static string FieldOf(RenderSetting setting) => $"setting.{setting.Name}";

    /// <summary>The fields of settings as they are kept.</summary>
    public static SettingsForm From(ShowRow row, ShowPlan show, IEnumerable<Rule> rules)
    {
        var form = new SettingsForm
        {
            Passes = [.. (show.Passes ?? []).Select(PassFields.From)],
            Aliases = [.. (show.Aliases ?? []).Select(a => new PairFields(a.Key, a.Value))],
            OwnSettings =
            [
                .. (show.Settings ?? []).Where(s => RenderSettings.Find(s.Key) is null).Select(s => new PairFields(s.Key, s.Value)),
            ],
            Preflight = DuneCrate.Planning.Model.Preflight.From(show),
        };
        Dictionary<string, string> texts = form._texts;
        texts["name"] = show.Name;
        texts["rate"] = row.FrameRate;
        texts["width"] = Text(row.Width);
        texts["height"] = Text(row.Height);
        texts["colourSpace"] = show.ColourSpace ?? "";
        texts["machines"] = Text(show.Machines);
        texts["template"] = show.Template ?? "";
        texts["padding"] = Text(show.Padding);
        texts["versionStyle"] = show.VersionStyle ?? "";
        texts["preflightGate"] = show.PreflightGate ? "true" : "";
        texts["preflightSeals"] = show.PreflightSeals ? "true" : "";
        foreach ((string name, string value) in show.Settings ?? [])
        {
            texts[$"setting.{RenderSettings.NameOf(name)}"] = value;
        }

        foreach (Rule rule in rules)
        {
            RuleSetting? set = show.Rules?.GetValueOrDefault(rule.Id);
            texts[FieldOf(rule)] = set?.Off == true ? "off" : set?.Severity?.ToString() ?? "";
            foreach (RuleThreshold threshold in rule.Thresholds)
            {
                texts[FieldOf(rule, threshold)] = (
                    set?.Thresholds?.TryGetValue(threshold.Name, out double t) == true ? t : threshold.Default
                ).ToString(CultureInfo.InvariantCulture);
            }
        }

        return form;
    }

    /// <summary>The fields as they were sent.</summary>
    public static SettingsForm From(IFormCollection sent)
    {
        string[] Column(string field) => [.. sent[field].Select(t => t?.Trim() ?? "")];
        PairFields[] Pairs(string first, string second) =>
            [.. Column(first).Zip(Column(second), (a, b) => new PairFields(a, b)).Where(p => !p.IsEmpty)];
        string[][] columns = [.. PassFields.Names.Select(Column)];
        var form = new SettingsForm
        {
            Passes = [.. Enumerable.Range(0, columns.Min(c => c.Length)).Select(i => PassFields.From(columns, i)).Where(p => !p.IsEmpty)],
            Aliases = Pairs("alias", "alias.pass"),
            OwnSettings = Pairs("own", "own.value"),
            Preflight = [.. Column("preflight").Where(l => l.Length > 0)],
        };
        foreach ((string field, StringValues text) in sent.Where(f => f.Value.Count == 1))
        {
            form._texts[field] = text.ToString().Trim();
        }

        return form;
    }

    /// <summary>Rate and size of new shots, and the show's settings with what the fields say; usable only without problems.</summary>
    public (ShowPlan Show, FrameRate Rate, int Width, int Height) Read(ShowPlan before, IEnumerable<Rule> rules)
    {
        if (!FrameRate.TryParse(this["rate"], out FrameRate rate, out string? noRate))
        {
            _problems["rate"] = noRate;
        }

        int width = Number("width", 1, PlanLimits.MaxSide) ?? Missing("width"),
            height = Number("height", 1, PlanLimits.MaxSide) ?? Missing("height");
        if (OrNull("template") is { } template && !NameTemplate.TryParse(template, out _, out string? noTemplate))
        {
            _problems["template"] = noTemplate;
        }

        if (this["name"].Length == 0)
        {
            _problems["name"] = "A name is needed.";
        }

        ImmutableArray<PassAddition> passes = ReadPasses();
        OrderedDictionary<string, string> aliases = ReadPairs("alias", Aliases),
            settings = ReadSettings();
        string[] lines = [.. Preflight];
        ShowPlan show = PlanNames.Resolve(
            before with
            {
                Name = this["name"],
                ColourSpace = OrNull("colourSpace"),
                Template = OrNull("template"),
                Padding = Number("padding", 1, PlanLimits.MaxPadding),
                VersionStyle = OrNull("versionStyle"),
                Machines = Number("machines", 1, PlanLimits.MaxMachines),
                Passes = passes.IsEmpty ? null : passes,
                Aliases = aliases.Count == 0 ? null : aliases,
                Settings = settings.Count == 0 ? null : settings,
                Rules = ReadRules(rules),
                PreflightGate = this["preflightGate"] == "true",
                PreflightSeals = this["preflightSeals"] == "true",
                Preflight =
                    lines.Length == 0 || lines.SequenceEqual(DuneCrate.Planning.Model.Preflight.Shipped) ? null : lines.ToImmutableArray(),
            }
        );
        foreach ((int i, PairFields alias) in Aliases.Index())
        {
            if (aliases.Count > 0 && show.Catalogue.Find(alias.Value) is null && show.Catalogue.KeyOf(alias.Value) is null)
            {
                _problems.TryAdd($"alias[{i}]", PlanValidation.UnknownPass(alias.Value, show.Catalogue));
            }
        }

        foreach (PlanProblem problem in PlanValidation.Check(show))
        {
            string field = problem.Field["show.".Length..];
            if (!field.Contains('['))
            {
                _problems.TryAdd(field, problem.Message);
            }
        }

        return (show, rate, width, height);
    }

    private ImmutableArray<PassAddition> ReadPasses()
    {
        var passes = ImmutableArray.CreateBuilder<PassAddition>();
        var keys = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach ((int i, PassFields row) in Passes.Index())
        {
            (PassAddition? pass, string? problem) = row.Read();
            problem ??= keys.Add(row.Key) ? null : $"Two rows have the key {row.Key}.";
            if (problem is not null)
            {
                _problems[$"pass[{i}]"] = problem;
            }
            else
            {
                passes.Add(pass!);
            }
        }

        return passes.ToImmutable();
    }

    private OrderedDictionary<string, string> ReadPairs(string field, IReadOnlyList<PairFields> rows)
    {
        var pairs = new OrderedDictionary<string, string>();
        foreach ((int i, PairFields row) in rows.Index())
        {
            if (row.Name.Length == 0 || row.Value.Length == 0)
            {
                _problems[$"{field}[{i}]"] = "Fill both fields, or empty both to take the row out.";
            }
            else if (!pairs.TryAdd(row.Name, row.Value))
            {
                _problems[$"{field}[{i}]"] = $"{row.Name} stands twice.";
            }
        }

        return pairs;
    }

    private OrderedDictionary<string, string> ReadSettings()
    {
        var settings = new OrderedDictionary<string, string>();
        foreach (RenderSetting setting in RenderSettings.Shipped)
        {
            string field = FieldOf(setting);
            if (OrNull(field) is not { } value)
            {
                continue;
            }

            settings[setting.Name] = value;
            if (RenderSettings.Problem(setting.Name, value) is { } wrong)
            {
                _problems[field] = wrong;
            }
        }

        foreach ((string name, string value) in ReadPairs("own", OwnSettings))
        {
            if (RenderSettings.Find(name) is { } shipped)
            {
                _problems[$"own[{OwnSettings.Index().First(o => o.Item.Name == name).Index}]"] =
                    $"{name} has a field above: {shipped.Words}.";
            }

            settings.TryAdd(name, value);
        }

        return settings;
    }

    private OrderedDictionary<string, RuleSetting>? ReadRules(IEnumerable<Rule> all)
    {
        var rules = new OrderedDictionary<string, RuleSetting>();
        foreach (Rule rule in all)
        {
            var thresholds = new OrderedDictionary<string, double>();
            foreach (RuleThreshold threshold in rule.Thresholds)
            {
                string field = FieldOf(rule, threshold);
                if (OrNull(field) is not { } text)
                {
                    continue;
                }

                if (!(double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double value) && double.IsFinite(value)))
                {
                    _problems[field] = $"'{text}' is not a number.";
                }
                else if (value != threshold.Default)
                {
                    thresholds[threshold.Name] = value;
                }
            }

            string severity = this[FieldOf(rule)];
            Severity? set = Enum.TryParse(severity, ignoreCase: true, out Severity parsed) && parsed != rule.Severity ? parsed : null;
            if (severity == "off" || set is not null || thresholds.Count > 0)
            {
                rules[rule.Id] = new RuleSetting
                {
                    Off = severity == "off",
                    Severity = set,
                    Thresholds = thresholds.Count > 0 ? thresholds : null,
                };
            }
        }

        return rules.Count == 0 ? null : rules;
    }

    private string? OrNull(string field) => this[field] is { Length: > 0 } text ? text : null;

    private int Missing(string field)
    {
        _problems.TryAdd(field, $"Write a whole number from 1 to {PlanLimits.MaxSide}.");
        return 1;
    }

    private int? Number(string field, int least, int most)
    {
        string text = this[field];
        bool isNumber = int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int number);
        if (text.Length > 0 && !(isNumber && number >= least && number <= most))
        {
            _problems[field] = $"Write a whole number from {least} to {most}.";
            return null;
        }

        return isNumber ? number : null;
    }

    private static string Text(int? number) => number?.ToString(CultureInfo.InvariantCulture) ?? "";
}
