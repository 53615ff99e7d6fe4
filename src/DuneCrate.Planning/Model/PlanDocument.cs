using System.Collections.Immutable;
using System.Text.Json;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Planning.Model;

/// <summary>Reads and writes plans.</summary>
public static class PlanDocument
{
    /// <summary>Bytes that a plan may have.</summary>
    public const int MaxBytes = 16 << 20;

    /// <summary>How a plan's text is read and written.</summary>
    internal static readonly JsonSerializerOptions Options = DocumentJson.Ahead(PlanJson.Default);

    /// <summary>Reads a plan and checks it. Returns the plan with its problems, or null when the text has no plan's form at all.</summary>
    public static (Plan? Plan, ImmutableArray<PlanProblem> Problems) Read(string json)
    {
        try
        {
            Plan plan = PlanNames.Resolve(DocumentJson.Read<Plan>(json, Options));
            return plan.Schema == Plan.SchemaName
                ? (plan, PlanValidation.Check(plan))
                : (null, [new PlanProblem("schema", $"This is '{plan.Schema}', not {Plan.SchemaName}.")]);
        }
        catch (DocumentException e)
        {
            return (null, [new PlanProblem((e.Path ?? "").TrimStart('$', '.'), DocumentJson.Problem(e))]);
        }
    }

    /// <summary>Reads a plan file.</summary>
    /// <exception cref="FormatException">The file is no usable plan; the message lists why.</exception>
    /// <exception cref="IOException">The file cannot be read.</exception>
    public static Plan ReadFile(StoragePath path)
    {
        (Plan? plan, ImmutableArray<PlanProblem> problems) = Read(path.ReadText(MaxBytes));
        return plan is not null && problems.IsEmpty
            ? plan
            : throw new FormatException($"{path} is not a usable plan. {string.Join(" ", problems.Take(5))}");
    }

    /// <summary>
    /// A plan as it was kept, however it came to be there: what pages and work can use of it, and what is wrong with it. What cannot be
    /// used is left out of it and never of what is kept.
    /// </summary>
    /// <param name="json">The text that was kept.</param>
    /// <param name="show">What the show settles now.</param>
    /// <param name="code">The shot's code.</param>
    public static KeptPlan ReadKept(string json, ShowPlan show, string code)
    {
        (Plan? plan, ImmutableArray<PlanProblem> problems) = Read(json);
        if (plan is null)
        {
            return new KeptPlan(
                null,
                Usable(
                    new Plan
                    {
                        Show = show,
                        Shot = new ShotPlan { Code = code, Frames = FrameSet.Empty },
                    },
                    []
                ),
                problems
            );
        }

        plan = plan with { Show = show };
        ImmutableArray<PlanProblem> found = PlanValidation.Check(plan).RemoveAll(p => p.IsFinding);
        return new KeptPlan(plan, found.IsEmpty ? plan : Usable(plan, found), found);
    }

    /// <summary>A plan without what nothing can be done with: everything that reads it may rely on frames, size, rate and names.</summary>
    private static Plan Usable(Plan plan, ImmutableArray<PlanProblem> problems)
    {
        bool IsWrong(string field) => problems.Any(p => p.Field == field);
        ShotPlan shot = plan.Shot;
        bool tooMuch = IsWrong("layers");
        return plan with
        {
            Shot = shot with
            {
                Frames = PlanValidation.FramesProblem(shot.Frames) is null ? shot.Frames : FrameSet.Single(1),
                FrameRate = shot.FrameRate.Denominator == 0 ? new FrameRate(24, 1) : shot.FrameRate,
                Width = Math.Clamp(shot.Width, 1, PlanLimits.MaxSide),
                Height = Math.Clamp(shot.Height, 1, PlanLimits.MaxSide),
                Overscan = Math.Clamp(shot.Overscan, 0, PlanLimits.MaxOverscan),
                PixelAspectRatio = shot.PixelAspectRatio is >= 0.01 and <= 100 ? shot.PixelAspectRatio : 1,
                Version = IsWrong("shot.version") ? null : shot.Version,
                TestFrame = IsWrong("shot.testFrame") ? null : shot.TestFrame,
            },
            Scene = problems.Any(p => p.Field.StartsWith("scene.", StringComparison.Ordinal)) ? null : plan.Scene,
            Layers = tooMuch
                ? []
                :
                [
                    .. plan
                        .Layers.Index()
                        .Where(l => !IsWrong($"layers[{l.Index}].name"))
                        .Select(l =>
                            l.Item with
                            {
                                Frames = IsWrong($"layers[{l.Index}].frames") ? null : l.Item.Frames,
                                Rebuild = IsWrong($"layers[{l.Index}].rebuild") ? [] : l.Item.Rebuild,
                                Outputs =
                                [
                                    .. l
                                        .Item.Outputs.Index()
                                        .Where(o =>
                                            !problems.Any(p =>
                                                p.Field.StartsWith($"layers[{l.Index}].outputs[{o.Index}].", StringComparison.Ordinal)
                                            )
                                        )
                                        .Select(o => o.Item),
                                ],
                            }
                        ),
                ],
        };
    }

    /// <summary>The document's text.</summary>
    public static string Write(Plan plan) => JsonSerializer.Serialize(plan, Options.Of<Plan>()) + "\n";
}
