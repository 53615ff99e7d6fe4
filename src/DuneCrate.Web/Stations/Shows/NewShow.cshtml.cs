using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.Shows;

/// <summary>Makes a show.</summary>
public sealed class NewShowModel(ShowStore store) : PageModel
{
    private static readonly HashSet<string> Reserved = new(
        (
            "rules new-show problem css js lib settings upkeep machines sign-in first welcome account confirm people history "
            + "guest health ready api events"
        ).Split(' '),
        StringComparer.OrdinalIgnoreCase
    );

    private readonly Dictionary<string, string> _problems = [];

    /// <summary>Code.</summary>
    [BindProperty]
    public string? Code { get; set; }

    /// <summary>Name.</summary>
    [BindProperty]
    public string? Name { get; set; }

    /// <summary>Frame rate.</summary>
    [BindProperty]
    public string? Rate { get; set; } = "24";

    /// <summary>Width.</summary>
    [BindProperty]
    public string? Width { get; set; } = "1920";

    /// <summary>Height.</summary>
    [BindProperty]
    public string? Height { get; set; } = "1080";

    /// <summary>What is wrong with a field, or an empty text.</summary>
    public string Problem(string field) => _problems.GetValueOrDefault(field, "");

    /// <summary>Shows the form.</summary>
    public void OnGet() { }

    /// <summary>Makes the show.</summary>
    public async Task<IActionResult> OnPostAsync()
    {
        string code = Code?.Trim() ?? "";
        if (TextLimits.NameProblem(code) is { } wrong)
        {
            _problems["code"] = wrong;
        }
        else if (Reserved.Contains(code))
        {
            _problems["code"] = $"'{code}' is an address of the application; choose another code.";
        }

        if (string.IsNullOrWhiteSpace(Name) || TextLimits.Problem("The name", Name) is not null)
        {
            _problems["name"] = TextLimits.Problem("The name", Name) ?? "A name is needed.";
        }

        if (!FrameRate.TryParse(Rate, out FrameRate rate, out string? noRate))
        {
            _problems["rate"] = noRate;
        }

        if (
            !int.TryParse(Width, out int width)
            || !int.TryParse(Height, out int height)
            || width is < 1 or > 65536
            || height is < 1 or > 65536
        )
        {
            _problems["size"] = "Width and height are whole numbers from 1 to 65536.";
            return Page();
        }

        if (
            _problems.Count == 0
            && !await store.AddShowAsync(
                new ShowRow
                {
                    Code = code,
                    Name = Name!.Trim(),
                    FrameRate = rate.ToString(),
                    Width = width,
                    Height = height,
                },
                this.Audited(HistoryKinds.Shows, $"show {code}", null, $"made: {Name!.Trim()}")
            )
        )
        {
            _problems["code"] = $"There is a show {code} already.";
        }

        if (_problems.Count > 0)
        {
            return Page();
        }

        return Redirect($"/{code}/new-shot");
    }
}
