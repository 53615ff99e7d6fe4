using System.Text;
using DuneCrate.Checking.Reports;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace DuneCrate.Web.Stations.Shows;

/// <summary>Where all shots of a show stand, and what is wrong across them.</summary>
public sealed class ShowSummaryModel(ShowStore store, ShotViews views) : AddressedPage
{
    /// <summary>The summary.</summary>
    public ShowReport Report { get; private set; } = null!;

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if ((await store.ShowNamesAsync(context.HttpContext.RequestAborted)).FirstOrDefault(s => s.Code == Show) is not { } show)
        {
            context.Result = NotFound();
            return;
        }

        Report = await views.SummaryAsync(show, context.HttpContext.RequestAborted);
        await next();
    }

    /// <summary>The summary as one self-contained page.</summary>
    public IActionResult OnGetPage() => Download(ShowReportPage.Write(Report), "text/html", "summary.html");

    /// <summary>The summary as a document.</summary>
    public IActionResult OnGetReport() => Download(Report.Write(), "application/json", "summary.json");

    /// <summary>The shots as CSV.</summary>
    public IActionResult OnGetCsv() => Download(ReportCsv.Shots(Report), "text/csv", "shots.csv");

    private FileContentResult Download(string text, string type, string name) => File(Encoding.UTF8.GetBytes(text), type, $"{Show}_{name}");
}
