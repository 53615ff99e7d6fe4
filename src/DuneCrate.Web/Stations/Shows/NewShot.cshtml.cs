using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace DuneCrate.Web.Stations.Shows;

/// <summary>Makes a shot, from a few fields or from a plan that somebody wrote.</summary>
public sealed class NewShotModel(ShowStore store, PlanStore plans, ShotViews views) : AddressedPage
{
    private readonly Dictionary<string, string> _problems = [];

    /// <summary>Name of the show.</summary>
    public string ShowName { get; private set; } = "";

    /// <summary>Code.</summary>
    [BindProperty]
    public string? Code { get; set; }

    /// <summary>Frames.</summary>
    [BindProperty]
    public string? Frames { get; set; } = "1001-1024";

    /// <summary>Frame rate.</summary>
    [BindProperty]
    public string? Rate { get; set; }

    /// <summary>Width.</summary>
    [BindProperty]
    public string? Width { get; set; }

    /// <summary>Height.</summary>
    [BindProperty]
    public string? Height { get; set; }

    /// <summary>Camera.</summary>
    [BindProperty]
    public string? Camera { get; set; }

    /// <summary>A plan as text.</summary>
    [BindProperty]
    public string? Json { get; set; }

    /// <summary>What is wrong with the plan that was brought.</summary>
    public ImmutableArray<PlanProblem> ImportProblems { get; private set; } = [];

    /// <summary>What a new shot can begin with: shots and templates of the show, by the value in the form.</summary>
    public List<(string Value, string Words)> Sources { get; } = [];

    /// <summary>The shot or template to begin with.</summary>
    [BindProperty]
    public string? From { get; set; }

    private ShowRow? _show;

    /// <summary>What is wrong with a field, or an empty text.</summary>
    public string Problem(string field) => _problems.GetValueOrDefault(field, "");

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        _show = (await store.ShowNamesAsync(context.HttpContext.RequestAborted)).FirstOrDefault(s => s.Code == Show);
        if (_show is null)
        {
            context.Result = NotFound();
            return;
        }

        ShowName = _show.Name;
        Sources.AddRange((await plans.TemplatesAsync(_show.Id)).Select(t => ($"template:{t.Id}", $"{t.Name} (template)")));
        Sources.AddRange(_show.Shots.Select(s => ($"shot:{s.Code}", s.Code)));
        await next();
    }

    /// <summary>Shows the forms.</summary>
    public void OnGet() =>
        (Rate, Width, Height, Camera) = (
            FrameRate.Parse(_show!.FrameRate) is { Denominator: 1 } whole
                ? whole.Numerator.ToString(System.Globalization.CultureInfo.InvariantCulture)
                : _show.FrameRate,
            _show.Width.ToString(System.Globalization.CultureInfo.InvariantCulture),
            _show.Height.ToString(System.Globalization.CultureInfo.InvariantCulture),
            "cam_main"
        );

    /// <summary>Makes a shot from fields.</summary>
    public async Task<IActionResult> OnPostPlanAsync()
    {
        if (!FrameSet.TryParse(Frames, out FrameSet? frames, out string? noFrames))
        {
            _problems["shot.frames"] = noFrames;
        }

        if (!FrameRate.TryParse(Rate, out FrameRate rate, out string? noRate))
        {
            _problems["shot.frameRate"] = noRate;
        }

        _ = int.TryParse(Width, out int width);
        _ = int.TryParse(Height, out int height);
        var plan = new Plan
        {
            Show = new ShowPlan { Code = _show!.Code, Name = _show.Name },
            Shot = new ShotPlan
            {
                Code = Code?.Trim() ?? "",
                Frames = frames ?? FrameSet.Empty,
                FrameRate = rate,
                Width = width,
                Height = height,
                Camera = Camera?.Trim() ?? "",
            },
        };
        foreach (PlanProblem problem in PlanValidation.Check(plan))
        {
            _problems.TryAdd(problem.Field, problem.Message);
        }

        return _problems.Count > 0 ? Page() : await AddAsync(plan, "shot.code");
    }

    /// <summary>Makes a shot from another shot or a template; everything is kept but code, frames and camera.</summary>
    public async Task<IActionResult> OnPostCopyAsync()
    {
        if (!FrameSet.TryParse(Frames, out FrameSet? frames, out string? noFrames))
        {
            _problems["copy.frames"] = noFrames;
        }

        Plan? source = From?.Split(':', 2) switch
        {
            ["shot", var code] when await store.ShotAsync(Show, code) is { } shot => views.PlanOf(shot),
            ["template", var id]
                when (await plans.TemplatesAsync(_show!.Id)).FirstOrDefault(t =>
                    t.Id.ToString(System.Globalization.CultureInfo.InvariantCulture) == id
                )
                    is { } kept => PlanDocument.Read(kept.PlanJson).Plan,
            _ => null,
        };
        if (source is null)
        {
            _problems["copy.from"] = "Choose what to begin with.";
        }

        if (_problems.Count > 0)
        {
            return Page();
        }

        Plan plan = PlanCopy.Create(source! with { Show = views.ShowOf(_show!) }, Code?.Trim() ?? "", frames!, Camera?.Trim() ?? "");
        foreach (PlanProblem problem in PlanValidation.Check(plan).Where(p => p.Field.StartsWith("shot.", StringComparison.Ordinal)))
        {
            _problems.TryAdd("copy." + problem.Field["shot.".Length..], problem.Message);
        }

        return _problems.Count > 0 ? Page() : await AddAsync(plan, "copy");
    }

    /// <summary>Makes a shot from a plan.</summary>
    public async Task<IActionResult> OnPostImportAsync(IFormFile? file)
    {
        if (file is { Length: > PlanDocument.MaxBytes })
        {
            ImportProblems =
            [
                new PlanProblem(
                    "",
                    $"{file.FileName} has {file.Length >> 20} MiB, and a plan has at most {PlanDocument.MaxBytes >> 20}; is it "
                        + $"another file?"
                ),
            ];
            return Page();
        }

        if (file is { Length: > 0 })
        {
            using var reader = new StreamReader(file.OpenReadStream());
            Json = await reader.ReadToEndAsync();
        }

        if (string.IsNullOrWhiteSpace(Json))
        {
            ImportProblems = [new PlanProblem("", "Choose a file, or paste a plan.")];
            return Page();
        }

        (Plan? plan, ImportProblems) = PlanDocument.Read(Json);
        if (plan is null || !ImportProblems.IsEmpty)
        {
            return Page();
        }

        ShowPlan settings = views.ShowOf(_show!),
            widened = settings.WithAdditionsOf(plan.Show);
        if (widened != settings && !HttpContext.Visitor().May(Permission.Wrangle, Show))
        {
            ImportProblems =
            [
                new PlanProblem(
                    "show",
                    $"This plan brings passes or aliases that {Show} does not have, and your role does not change the "
                        + "show. Ask a wrangler to import it, or to add them on the show's settings page first; nothing was changed."
                ),
            ];
            return Page();
        }

        if (widened != settings)
        {
            AuditEvent audited = this.Audited(HistoryKinds.Shows, $"settings of {Show}", null, $"widened for {plan.Shot.Code}");
            await plans.SaveShowAsync(_show!.Id, widened, _show.FrameRate, _show.Width, _show.Height, audited);
        }

        return await AddAsync(plan with { Show = widened }, "");
    }

    private async Task<IActionResult> AddAsync(Plan plan, string field)
    {
        AuditEvent audited = this.Audited(HistoryKinds.Planned, $"shot {plan.Shot.Code}", null, "made");
        if (await store.AddShotAsync(_show!.Code, plan, audited) is not null)
        {
            return Redirect($"/{_show.Code}/{plan.Shot.Code}/plan");
        }

        string message = $"There is a shot {plan.Shot.Code} in {_show.Code} already.";
        _problems[field == "copy" ? "copy.code" : "shot.code"] = message;
        ImportProblems = field.Length == 0 ? [new PlanProblem("shot.code", message)] : [];
        return Page();
    }
}
