using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Time;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Checking;

/// <content>What is done about findings: waived, handed on, taken back.</content>
public sealed partial class CheckModel
{
    /// <summary>Hands a finding to a person with a note.</summary>
    public async Task<IActionResult> OnPostHandAsync(string key, string? to, string? by, string? note, CancellationToken cancel)
    {
        if (Find(key) is not { } finding)
        {
            return await SayAsync("That finding is not in the newest report any more.", cancel);
        }

        if (string.IsNullOrWhiteSpace(to) || string.IsNullOrWhiteSpace(by))
        {
            return await SayAsync("Say to whom the finding goes, and from whom.", cancel);
        }

        if (
            (
                TextLimits.Problem("The name", to)
                ?? TextLimits.Problem("The name", by)
                ?? TextLimits.Problem("The note", note, TextLimits.NoteLength)
            ) is
            { } wrong
        )
        {
            return await SayAsync(wrong, cancel);
        }

        await findingStore.HandAsync(
            View.Row.Id,
            [new FindingNote(finding.Rule, finding.Output, finding.Pass, to.Trim(), by.Trim(), (note ?? "").Trim(), clock.UtcNow)],
            [Handed(finding, to.Trim())]
        );
        await store.NoteAsync(View.Row.Id, $"{finding.Rule} handed to {to.Trim()}");
        return ToStation("check");
    }

    /// <summary>Accepts several findings for one reason: those that are ticked, or all that are shown.</summary>
    public async Task<IActionResult> OnPostWaiveSeveralAsync(string[] keys, bool all, string? by, string? reason, CancellationToken cancel)
    {
        Finding[] chosen = [.. Chosen(keys, all).Where(f => f.Waived is null)];
        string? wrong =
            chosen.Length == 0 ? "Tick the findings that are meant."
            : string.IsNullOrWhiteSpace(by) || string.IsNullOrWhiteSpace(reason) ? "A waiver needs a name and a reason."
            : TextLimits.Problem("The name", by) ?? TextLimits.Problem("The reason", reason, TextLimits.NoteLength);
        if (wrong is not null)
        {
            return await SayAsync(wrong, cancel);
        }

        await findingStore.WaiveAsync(
            [.. chosen.Select(f => WaiverOf(f, by!, reason!))],
            [.. chosen.Select(f => Waived(f, reason!))],
            CancellationToken.None
        );
        await store.NoteAsync(View.Row.Id, $"{Words.Count(chosen.Length, "finding")} waived by {by!.Trim()}");
        return ToStation("check");
    }

    /// <summary>Hands several findings to one person.</summary>
    public async Task<IActionResult> OnPostHandSeveralAsync(string[] keys, bool all, string? by, string? to, CancellationToken cancel)
    {
        Finding[] chosen = [.. Chosen(keys, all)];
        string? wrong =
            chosen.Length == 0 ? "Tick the findings that are meant."
            : string.IsNullOrWhiteSpace(to) || string.IsNullOrWhiteSpace(by) ? "Say to whom the findings go, and from whom."
            : TextLimits.Problem("The name", to) ?? TextLimits.Problem("The name", by);
        if (wrong is not null)
        {
            return await SayAsync(wrong, cancel);
        }

        await findingStore.HandAsync(
            View.Row.Id,
            [.. chosen.Select(f => new FindingNote(f.Rule, f.Output, f.Pass, to!.Trim(), by!.Trim(), "", clock.UtcNow))],
            [.. chosen.Select(f => Handed(f, to!.Trim()))],
            CancellationToken.None
        );
        await store.NoteAsync(View.Row.Id, $"{Words.Count(chosen.Length, "finding")} handed to {to!.Trim()}");
        return ToStation("check");
    }

    private IEnumerable<Finding> Chosen(string[] keys, bool all) =>
        all ? View.ShownFindings : (View.Report?.Findings ?? []).Where(f => keys.Contains(f.Key));

    private WaiverRow WaiverOf(Finding finding, string by, string reason) =>
        new()
        {
            ShotId = View.Row.Id,
            Rule = finding.Rule,
            Output = finding.Output,
            Pass = finding.Pass,
            Frames = finding.Frames.ToString(),
            By = by.Trim(),
            Reason = reason.Trim(),
            At = clock.UtcNow,
        };

    /// <summary>Takes a finding out of somebody's hands.</summary>
    public async Task<IActionResult> OnPostTakeBackAsync(string key)
    {
        if (Find(key) is { } finding)
        {
            await findingStore.TakeBackAsync(View.Row.Id, finding.Rule, finding.Output, finding.Pass, [Handed(finding, "taken back")]);
        }

        return ToStation("check");
    }

    private AuditEvent Waived(Finding finding, string reason) =>
        this.Audited(HistoryKinds.Waived, NameOf(finding), Words.Choice(finding.Severity), $"waived: {reason.Trim()}");

    private AuditEvent Handed(Finding finding, string to) =>
        this.Audited(HistoryKinds.FindingHanded, NameOf(finding), finding.Handed?.To, to);

    /// <summary>What a finding is called in the history.</summary>
    private static string NameOf(Finding finding) => $"{finding.Rule} of {finding.Output} {finding.Frames}".TrimEnd();

    /// <summary>Accepts a finding by name and reason.</summary>
    public async Task<IActionResult> OnPostWaiveAsync(string key, string? by, string? reason, CancellationToken cancel)
    {
        if (Find(key) is not { } finding)
        {
            return await SayAsync("That finding is not in the newest report any more.", cancel);
        }

        if (string.IsNullOrWhiteSpace(by) || string.IsNullOrWhiteSpace(reason))
        {
            return await SayAsync("A waiver needs a name and a reason.", cancel);
        }

        if ((TextLimits.Problem("The name", by) ?? TextLimits.Problem("The reason", reason, TextLimits.NoteLength)) is { } wrong)
        {
            return await SayAsync(wrong, cancel);
        }

        await findingStore.WaiveAsync([WaiverOf(finding, by, reason)], [Waived(finding, reason)], CancellationToken.None);
        await store.NoteAsync(View.Row.Id, $"{finding.Rule} waived by {by.Trim()}");
        return ToStation("check");
    }

    /// <summary>Takes a waiver back.</summary>
    public async Task<IActionResult> OnPostUnwaiveAsync(string key)
    {
        Finding? finding = Find(key);
        WaiverRow[] waivers = [.. View.Waivers.Where(w => finding is not null && FindingStore.ToWaiver(w).Covers(finding))];
        await findingStore.UnwaiveAsync(
            View.Row.Id,
            [.. waivers.Select(w => w.Id)],
            [.. waivers.Select(w => this.Audited(HistoryKinds.WaiverTakenBack, NameOf(finding!), $"waived by {w.By}: {w.Reason}", "open"))]
        );
        return ToStation("check");
    }
}
