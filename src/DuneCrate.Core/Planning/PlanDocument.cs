using System.Collections.Immutable;
using System.Text.Json;

namespace DuneCrate.Core.Planning;

/// <summary>Reads and writes plans.</summary>
public static class PlanDocument
{
    /// <summary>Bytes that a plan may have.</summary>
    public const int MaxBytes = 16 << 20;

    /// <summary>Reads a plan and checks it. Returns the plan with its problems, or null when the text has no plan's form at all.</summary>
    public static (Plan? Plan, ImmutableArray<PlanProblem> Problems) Read(string json)
    {
        try
        {
            var plan = DocumentJson.Read<Plan>(json);
            return plan.Schema == Plan.SchemaName
                ? (plan, PlanValidation.Check(plan))
                : (null, [new PlanProblem("schema", $"This is '{plan.Schema}', not {Plan.SchemaName}.")]);
        }
        catch (JsonException e)
        {
            string message = e.Message.Split(" Path:")[0].Replace("DuneCrate.Core.Planning.", "", StringComparison.Ordinal);
            return (null, [new PlanProblem((e.Path ?? "").TrimStart('$', '.'), $"{message}{(e.LineNumber is { } line ? $" Line {line + 1}." : "")}")]);
        }
    }

    /// <summary>Reads a plan file.</summary>
    /// <exception cref="FormatException">The file is no usable plan; the message lists why.</exception>
    /// <exception cref="IOException">The file cannot be read.</exception>
    public static Plan ReadFile(string path)
    {
        if (new FileInfo(path).Length > MaxBytes)
        {
            throw new FormatException($"{path} is larger than a plan can be.");
        }

        (Plan? plan, ImmutableArray<PlanProblem> problems) = Read(File.ReadAllText(path));
        return plan is not null && problems.IsEmpty ? plan : throw new FormatException($"{path} is not a usable plan. {string.Join(" ", problems.Take(5))}");
    }

    /// <summary>The document's text.</summary>
    public static string Write(Plan plan) => JsonSerializer.Serialize(plan, DocumentJson.Options) + "\n";
}
