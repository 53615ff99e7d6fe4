using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Core.Checks.Rules;
using DuneCrate.Core.Documents;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Planning.Rules;
using DuneCrate.Core.Rules;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.Shows;

/// <summary>
/// What holds for all shots of a show: rate, size, naming, catalogue, aliases, rules, render settings, preflight list, templates.
/// </summary>
public sealed class ShowSettingsModel(ShowStore shows, PlanStore plans, ShotViews views) : PageModel
{
    private readonly Dictionary<string, string> _problems = [];

    /// <summary>Code of the show.</summary>
    [BindProperty(SupportsGet = true)]
    public string Show { get; set; } = "";

    /// <summary>The show.</summary>
    public ShowRow Row { get; private set; } = null!;

    /// <summary>Its settings as they are, or as they were typed.</summary>
    public ShowPlan Settings { get; private set; } = null!;

    /// <summary>Plans that it keeps for new shots.</summary>
    public List<PlanTemplateRow> Templates { get; private set; } = [];

    /// <summary>Whether they were just saved.</summary>
    public bool IsSaved { get; private set; }

    /// <summary>Every rule, those of the plan first.</summary>
    public static IEnumerable<Rule> Rules => [.. PlanRuleBook.All, .. RuleBook.All];

    /// <summary>What is wrong with a field, or an empty text.</summary>
    public string Problem(string field) => _problems.GetValueOrDefault(field, "");

    /// <summary>Whether anything is wrong.</summary>
    public bool HasProblems => _problems.Count > 0;

    /// <summary>What was typed into a field that was refused, else <paramref name="now"/>.</summary>
    public string Given(string field, string now) => HasProblems && Request.HasFormContentType ? Request.Form[field].ToString() : now;

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (await LoadAsync())
        {
            await next();
        }
        else
        {
            context.Result = NotFound();
        }
    }

    /// <summary>Shows the page.</summary>
    public void OnGet() { }

    /// <summary>Saves everything, or nothing when a field is wrong.</summary>
    public async Task<IActionResult> OnPostAsync()
    {
        IFormCollection form = Request.Form;
        string Text(string name) => form[name].ToString().Trim();
        string? OrNull(string name) => Text(name) is { Length: > 0 } text ? text : null;
        if (!FrameRate.TryParse(Text("rate"), out FrameRate rate, out string? noRate))
        {
            _problems["rate"] = noRate;
        }

        if (
            !int.TryParse(Text("width"), out int width)
            || !int.TryParse(Text("height"), out int height)
            || width is < 1 or > PlanLimits.MaxSide
            || height is < 1 or > PlanLimits.MaxSide
        )
        {
            (width, height) = (Row.Width, Row.Height);
            _problems["size"] = $"Width and height are whole numbers from 1 to {PlanLimits.MaxSide}.";
        }

        if (OrNull("template") is { } template && !NameTemplate.TryParse(template, out _, out string? noTemplate))
        {
            _problems["template"] = noTemplate;
        }

        if (OrNull("versionStyle") is { } style && !VersionStyle.IsStyle(style))
        {
            _problems["versionStyle"] = "Write a letter and one 0 per digit, such as v000.";
        }

        if (Text("name").Length == 0)
        {
            _problems["name"] = "A name is needed.";
        }

        ImmutableArray<PassAddition> passes = Passes(Text("passes"));
        OrderedDictionary<string, string> aliases = Pairs(Text("aliases"), "aliases"),
            settings = Pairs(Text("settings"), "settings");
        foreach ((string name, string value) in settings)
        {
            if (RenderSettings.Problem(name, value) is { } wrong)
            {
                _problems["settings"] = wrong;
            }
        }

        string[] lines =
        [
            .. form["preflight"].ToString().Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries),
        ];
        ShowPlan changed = PlanNames.Resolve(
            Settings with
            {
                Name = Text("name"),
                ColourSpace = OrNull("colourSpace"),
                Template = OrNull("template"),
                Padding = Number("padding", 1, PlanLimits.MaxPadding),
                VersionStyle = OrNull("versionStyle"),
                Machines = Number("machines", 1, 100_000),
                Passes = passes.IsEmpty ? null : passes,
                Aliases = aliases.Count == 0 ? null : aliases,
                Settings = settings.Count == 0 ? null : settings,
                Rules = RuleSettings(form),
                PreflightGate = form["preflightGate"] == "true",
                Preflight = lines.Length == 0 || lines.SequenceEqual(Preflight.Shipped) ? null : [.. lines],
            }
        );
        if (
            (changed.Aliases ?? [])
                .Select(a => a.Value)
                .FirstOrDefault(p => changed.Catalogue.Passes.All(known => known.Key != p) && changed.Catalogue.KeyOf(p) is null) is
            { } unknown
        )
        {
            _problems["aliases"] = PlanValidation.UnknownPass(unknown, changed.Catalogue);
        }

        foreach (PlanProblem problem in PlanValidation.Check(changed))
        {
            _problems.TryAdd(problem.Field["show.".Length..].Split('[')[0], problem.Message);
        }

        Settings = changed;
        if (HasProblems)
        {
            return Page();
        }

        await plans.SaveShowAsync(Row.Id, changed, rate.ToString(), width, height);
        await LoadAsync();
        IsSaved = true;
        return Page();
    }

    /// <summary>Forgets a template.</summary>
    public async Task<IActionResult> OnPostForgetAsync(int id)
    {
        await plans.RemoveTemplateAsync(Row.Id, id);
        return Redirect($"/{Show}/settings");
    }

    /// <summary>Pass additions as the page writes them, a line each: key | name | kind | channels | type | operation | remark.</summary>
    public static string Write(IEnumerable<PassAddition> passes) =>
        string.Join(
            '\n',
            passes.Select(p =>
                $"{p.Key} | {p.Name} | {Words.Choice(p.Kind)} | {string.Join(' ', p.Channels)} | "
                + $"{p.Type.Name()} | {p.Operation}{(p.Remark.Length > 0 ? $" | {p.Remark}" : "")}"
            )
        );

    private ImmutableArray<PassAddition> Passes(string text)
    {
        var passes = ImmutableArray.CreateBuilder<PassAddition>();
        foreach (string line in text.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            string[] parts = line.Split('|', StringSplitOptions.TrimEntries);
            if (
                parts.Length is < 5 or > 7
                || !Enum.TryParse(parts[2], ignoreCase: true, out PassKind kind)
                || ChannelTypes.Find(parts[4]) is not { } type
            )
            {
                _problems["passes"] =
                    $"'{line}' cannot be read; write key | name | kind | channels | type | operation, "
                    + "such as glints | glints | light | R G B | half | plus. "
                    + $"Kinds: {string.Join(", ", Enum.GetNames<PassKind>()).ToLowerInvariant()}.";
                continue;
            }

            var pass = new PassAddition(
                parts[0],
                parts[1],
                kind,
                [.. parts[3].Split(' ', StringSplitOptions.RemoveEmptyEntries)],
                type,
                kind is not (PassKind.Data or PassKind.Identity),
                parts.ElementAtOrDefault(5) ?? "none",
                parts.ElementAtOrDefault(6) ?? ""
            );
            if (pass.Problem is { } problem)
            {
                _problems["passes"] = $"{parts[0]}: {problem}";
            }

            passes.Add(pass);
        }

        return passes.ToImmutable();
    }

    private OrderedDictionary<string, string> Pairs(string text, string field)
    {
        var pairs = new OrderedDictionary<string, string>();
        foreach (string line in text.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            string[] sides = line.Split('=', 2, StringSplitOptions.TrimEntries);
            if (sides.Length != 2 || sides[0].Length == 0 || sides[1].Length == 0 || !pairs.TryAdd(sides[0], sides[1]))
            {
                _problems[field] = $"'{line}' cannot be read, or stands twice; write name = value.";
            }
        }

        return pairs;
    }

    private int? Number(string field, int least, int most)
    {
        string text = Request.Form[field].ToString().Trim();
        if (
            text.Length > 0
            && !(int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int number) && number >= least && number <= most)
        )
        {
            _problems[field] = $"Write a whole number from {least} to {most}.";
        }

        return int.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out int value) ? value : null;
    }

    private OrderedDictionary<string, RuleSetting>? RuleSettings(IFormCollection form)
    {
        var rules = new OrderedDictionary<string, RuleSetting>();
        foreach (Rule rule in Rules)
        {
            string severity = form[$"rule.{rule.Id}"].ToString();
            var thresholds = new OrderedDictionary<string, double>();
            foreach (RuleThreshold threshold in rule.Thresholds)
            {
                string text = form[$"rule.{rule.Id}.{threshold.Name}"].ToString().Trim();
                if (
                    text.Length > 0
                    && !(
                        double.TryParse(text, NumberStyles.Float, CultureInfo.InvariantCulture, out double number)
                        && double.IsFinite(number)
                    )
                )
                {
                    _problems["rules"] = $"{rule.Id}: '{text}' is not a number.";
                }
                else if (text.Length > 0 && double.Parse(text, CultureInfo.InvariantCulture) is var value && value != threshold.Default)
                {
                    thresholds[threshold.Name] = value;
                }
            }

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

    private async Task<bool> LoadAsync()
    {
        ShowRow? row = (await shows.ShowNamesAsync(HttpContext.RequestAborted)).FirstOrDefault(s => s.Code == Show);
        if (row is null)
        {
            return false;
        }

        Row = row;
        Settings = views.ShowOf(row);
        Templates = await plans.TemplatesAsync(row.Id);
        return true;
    }
}
