using System.Globalization;
using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Edits;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>The test frame: chosen, taken in, checked, multiplied out; and what the shot will come to.</summary>
public sealed class EstimateModel(ShotViews views, StorageRoots roots, PlanEditor plans, CheckRequests requests)
    : PlanFormPage(views, roots, plans)
{
    /// <inheritdoc/>
    public override string Part => "estimate";

    /// <summary>Names of the storage roots.</summary>
    public IReadOnlyCollection<string> Roots => View.Ground.Names(Visitor.IsKeeper);

    /// <summary>What was found in the test frame's files; null when they were not just taken in.</summary>
    public CheckReport? Report { get; private set; }

    /// <summary>What the shot will come to, in short: "288 files, about 1.2 GiB, 3.5 h on 4 machines".</summary>
    public string Summary =>
        $"{Words.Count(Sheet.Estimate.Files, "file")}, about {ByteSize.Text(Sheet.Estimate.Bytes)}"
        + (
            Sheet.Estimate.Hours is { } hours
                ? FormattableString.Invariant($", {hours:0.##} h on {Words.Count(Sheet.Estimate.Machines, "machine")}")
                : ""
        );

    /// <summary>The folder in the form.</summary>
    public string Folder { get; private set; } = "";

    /// <inheritdoc/>
    public override Task OnGetAsync(CancellationToken cancel)
    {
        Folder = Folder.Length > 0 ? Folder : $"{(View.Row.Folder.Length > 0 ? View.Row.Folder : View.Row.Code)}_test";
        return Task.CompletedTask;
    }

    /// <summary>Chooses the test frame.</summary>
    public Task<IActionResult> OnPostChooseAsync(string? frame, string? scale, int revision, CancellationToken cancel) =>
        int.TryParse(frame, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int number)
        && double.TryParse(scale, NumberStyles.Float, CultureInfo.InvariantCulture, out double size)
            ? MakeAsync(new SetTestFrame(number, size), revision, cancel)
            : SayAsync("Write the frame as a number and the scale as 1, 0.5 or 0.25.", cancel);

    /// <summary>Takes the test frame's files in: checks them and notes what they came to.</summary>
    public async Task<IActionResult> OnPostTakeAsync(string? root, string? folder, int revision, CancellationToken cancel)
    {
        (StoragePath? path, string? problem) = await Task.Run(() => View.Ground.Resolve(root, folder, Visitor.IsKeeper), cancel);
        Folder = folder ?? "";
        if (path is null || View.Plan.Shot.TestFrame is null)
        {
            return await SayAsync(problem ?? "Choose the test frame first.", cancel);
        }

        CheckReport report;
        SetTestFrame measured;
        try
        {
            CheckRequest request = requests.Of(path, View.Plan, FactsDepth.Pixels);
            (report, measured) = await Task.Run(() => TestFrameCheck.Run(request, cancel), cancel);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return await SayAsync(Failures.Words("The test frame cannot be read", e), cancel);
        }

        IActionResult done = await MakeAsync(measured, revision, cancel);
        if (done is not RedirectResult)
        {
            return done;
        }

        await LoadAsync(cancel);
        Report = report;
        await OnGetAsync(cancel);
        return Page();
    }

    /// <summary>Notes how long a layer of the test frame took.</summary>
    public Task<IActionResult> OnPostTimeAsync(string layer, string? seconds, int revision, CancellationToken cancel)
    {
        if (
            View.Plan.Shot.TestFrame is not { } test
            || !double.TryParse(seconds, NumberStyles.Float, CultureInfo.InvariantCulture, out double took)
            || took is < 0 or > 1e7
        )
        {
            return SayAsync("Write the seconds that one machine took as a number.", cancel);
        }

        var all = new OrderedDictionary<string, double>(test.Seconds ?? []) { [layer] = took };
        return MakeAsync(
            new SetTestFrame(test.Frame, test.Scale)
            {
                Bytes = test.Bytes,
                Ratios = test.Ratios,
                Blockers = test.Blockers,
                Seconds = all,
            },
            revision,
            cancel
        );
    }
}
