using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Estimates;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking;

/// <summary>Checks the one frame that is rendered before all others, and measures it.</summary>
public static class TestFrameCheck
{
    /// <summary>The plan that the test frame is rendered to: the frame alone, at its scale. Names stay those of the whole plan.</summary>
    public static Plan PlanFor(Plan plan, int frame, double scale) =>
        plan with
        {
            Shot = plan.Shot with
            {
                Frames = FrameSet.Single(frame),
                Width = (int)(plan.Shot.Width * scale),
                Height = (int)(plan.Shot.Height * scale),
                Overscan = (int)(plan.Shot.Overscan * scale),
                TestFrame = null,
            },
            Layers =
            [
                .. plan.Layers.Select(l =>
                    l with
                    {
                        Frames = null,
                        Outputs =
                        [
                            .. l.Outputs.Select(o =>
                                o with
                                {
                                    Frames = null,
                                    Passes = [.. o.Passes.Select(p => p with { Frames = null })],
                                }
                            ),
                        ],
                    }
                ),
            ],
        };

    /// <summary>Reads the test frame's files below a folder.</summary>
    /// <returns>The report, and the change that notes bytes, seconds and blockers in the plan.</returns>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    public static (CheckReport Report, SetTestFrame Measured) Run(CheckRequest request, CancellationToken cancel)
    {
        TestFrame test = request.Plan?.Shot.TestFrame ?? throw new ArgumentException("No test frame is chosen.", nameof(request));
        Plan small = PlanFor(request.Plan, test.Frame, test.Scale);
        CheckResult found = FolderCheck.Run(request with { Plan = small }, cancel);
        (IntakeResult intake, CheckReport report) = (found.Intake, found.Report);
        var bytes = new OrderedDictionary<string, long>();
        var ratios = new OrderedDictionary<string, double>();
        var seconds = new OrderedDictionary<string, double>(test.Seconds ?? []);
        foreach (PlannedOutput output in PlannedOutput.From(small))
        {
            if (intake.Facts.GetValueOrDefault(output.Name.At(test.Frame)) is { Readable: true } file)
            {
                bytes[output.Key] = file.Bytes;
                foreach ((string pass, double ratio) in PlanEstimate.Ratios(small, output, file.Bytes))
                {
                    ratios[pass] = ratio;
                }

                if (file.Parts.Select(p => p.RenderSeconds).OfType<double>().DefaultIfEmpty(-1).Max() is >= 0 and var took)
                {
                    seconds[output.Layer.Name] = Math.Round(took, 3);
                }
            }
        }

        return (
            report,
            new SetTestFrame(test.Frame, test.Scale)
            {
                Bytes = bytes,
                Ratios = ratios,
                Seconds = seconds,
                Blockers = report.Summary.Blockers,
            }
        );
    }
}
