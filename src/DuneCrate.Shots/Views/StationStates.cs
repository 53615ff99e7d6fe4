using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Views;

/// <summary>How far a shot has come in each of its six stations, in a few words.</summary>
internal sealed class StationStates
{
    private readonly ShotView _view;
    private readonly int _passes,
        _blockers,
        _warnings;
    private readonly long _planned,
        _arrived;

    private StationStates(ShotView view)
    {
        _view = view;
        _passes = view.Plan.Layers.Sum(l => l.Passes.Count());
        _planned = view.Outputs.Sum(o => o.Frames.LongCount);
        _arrived = view.Lanes.Sum(l =>
            l.Runs.Where(r => r.State is not (FrameState.Missing or FrameState.Pending or FrameState.Unplanned))
                .Sum(r => r.Frames.LongCount)
        );
        (_blockers, _warnings) = (view.Count(Severity.Blocker), view.Count(Severity.Warning));
    }

    private bool HasNothing => _view.Report is null || _arrived == 0;

    /// <summary>The six stations of a shot, in their order.</summary>
    public static ImmutableArray<Station> Of(ShotView view)
    {
        var states = new StationStates(view);
        return [states.Plan(), states.Receive(), states.Check(), states.Look(), states.Stack(), states.Crate()];
    }

    private Station Plan() =>
        new(
            "Plan",
            !_view.PlanProblems.IsEmpty ? $"{Words.Count(_view.PlanProblems.Length, "problem")}"
                : _passes == 0 ? "no passes yet"
                : $"{Words.Count(_view.Plan.Layers.Count(l => !l.Off), "layer")} · {Words.Count(_passes, "pass", "passes")}",
            _passes > 0 && _view.PlanProblems.IsEmpty ? StationState.Done : StationState.Begun
        );

    private Station Receive() =>
        new(
            "Receive",
            _view.Report is null ? "nothing yet"
                : !_view.IsPlanned ? Words.Count(_view.Report.Summary.Files, "file")
                : _planned == 0 ? "nothing planned"
                : _arrived == _planned ? "all here"
                : $"{100 * _arrived / _planned} %",
            _view.Report is null ? StationState.Open
                : _view.IsPlanned && _arrived == _planned && _planned > 0 ? StationState.Done
                : StationState.Begun
        );

    private Station Check() =>
        new(
            "Check",
            _view.Report is null ? "not checked"
                : _blockers > 0 ? $"{Words.Count(_blockers, "blocker")}{(_warnings > 0 ? $" · {_warnings} to look at" : "")}"
                : _warnings > 0 ? $"{_warnings} to look at"
                : _passes == 0 ? "no plan to hold it to"
                : _arrived == 0 ? "nothing to check"
                : _view.IsStale ? "plan changed since"
                : "clean",
            _view.Report is null ? StationState.Open
                : _blockers + _warnings == 0 && _passes > 0 && _arrived > 0 && !_view.IsStale ? StationState.Done
                : StationState.Begun
        );

    private Station Look() =>
        HasNothing ? new("Look", "no frames", StationState.Open) : new("Look", $"frame {_view.Selected.Frame}", StationState.Done);

    private Station Stack()
    {
        if (_view.Plan.Layers.All(l => l.Rebuild.IsEmpty))
        {
            return new("Stack", "no sum planned", StationState.Open);
        }

        if (!_view.HasPixels)
        {
            return new("Stack", "not summed", StationState.Open);
        }

        FrameSet off = _view.Unsummed();
        return off.IsEmpty
            ? new("Stack", "sums", StationState.Done)
            : new("Stack", $"sum off in {off.LongCount} {(off.IsStill ? "frame" : "frames")}", StationState.Begun);
    }

    private Station Crate()
    {
        if (_view.Crates.FirstOrDefault(c => c.State == JobState.Done) is { } last)
        {
            bool isWhole = last.VerifyProblems is not { Length: > 0 };
            return new(
                "Crate",
                $"v{last.Name![^3..]} {(isWhole ? "sealed" : "not whole")}",
                isWhole ? StationState.Done : StationState.Begun
            );
        }

        return new(
            "Crate",
            HasNothing ? "nothing to seal"
                : _passes == 0 ? "plan first"
                : _blockers > 0 ? "blocked"
                : _view.IsStale ? "check first"
                : "ready to seal",
            StationState.Open
        );
    }
}
