using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using DuneCrate.Exr;
using DuneCrate.Foundation.Naming;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Edits;

/// <summary>
/// Sets name, padding and compression of outputs of one kind in some layers, or in all of them; what is null stays as it is.
/// </summary>
public sealed record SetOutputs(ImmutableArray<string> Layers, PassHome? Home) : PlanEdit
{
    /// <summary>
    /// One pass of the files per pass, which then gets a name and a format of its own; null for all of them.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Pass { get; init; }

    /// <summary>Name template. It must hold {pass} for files per pass and must not for shared ones.</summary>
    public string? Template { get; init; }

    /// <summary>Padding as it is typed.</summary>
    public string? Padding { get; init; }

    /// <summary>Compression name.</summary>
    public string? Compression { get; init; }

    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"files of {Listed(Layers, "all layers")} named anew";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        (string? template, int? asked) = Template is null ? (null, null) : NameTemplate.WithFrameToken(Template.Trim());
        if (template is not null && !NameTemplate.TryParse(template, out _, out string? problem))
        {
            throw new PlanEditException("template", problem);
        }

        if (Compression is not null && ExrCompression.Find(Compression) is null)
        {
            throw new PlanEditException(
                "compression",
                $"'{Compression}' is not a compression; use {string.Join(", ", ExrCompression.All.Select(c => c.Name))}."
            );
        }

        int? padding =
            Padding is null ? asked
            : int.TryParse(Padding.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out int digits)
            && digits is >= 1 and <= PlanLimits.MaxPadding
                ? digits
            : throw new PlanEditException("padding", $"Padding must be 1 to {PlanLimits.MaxPadding} digits.");
        foreach (string name in Named(plan, Layers))
        {
            plan = ChangeLayer(
                plan,
                name,
                layer =>
                    layer with
                    {
                        Outputs = Gathered([
                            .. layer
                                .Outputs.SelectMany(Apart)
                                .Select(o =>
                                    !IsMeant(layer, o)
                                        ? o
                                        : o with
                                        {
                                            Template = template is null ? o.Template : Fits(o, template),
                                            Padding = padding ?? o.Padding,
                                            Compression = Compression ?? o.Compression,
                                        }
                                ),
                        ]),
                    }
            );
        }

        return plan;
    }

    /// <summary>Whether an output is to change. A single pass with a name of its own does not follow the other files per pass.</summary>
    private bool IsMeant(LayerPlan layer, OutputPlan output) =>
        (Home is not { } home || PassSheet.HomeOf(layer, output) == home)
        && (
            Pass is null
                ? !(output is { IsPerPass: true, Passes.Length: 1 } && layer.Outputs.Any(o => o is { IsPerPass: true, Passes.Length: > 1 }))
                : output.IsPerPass && output.Passes.Any(p => p.Pass == Pass)
        );

    /// <summary>An output, or two when the one pass stands in it beside others.</summary>
    private IEnumerable<OutputPlan> Apart(OutputPlan output) =>
        Pass is not null && output.IsPerPass && output.Passes.Length > 1 && output.Passes.Any(p => p.Pass == Pass)
            ?
            [
                output with
                {
                    Passes = output.Passes.RemoveAll(p => p.Pass == Pass),
                },
                output with
                {
                    Passes = [.. output.Passes.Where(p => p.Pass == Pass)],
                },
            ]
            : [output];

    /// <summary>Files per pass that are named and packed alike are one output.</summary>
    private static ImmutableArray<OutputPlan> Gathered(IEnumerable<OutputPlan> outputs) =>
        [
            .. outputs
                .Select((o, i) => (Output: o, Number: o.IsPerPass && o.Extra is null ? -1 : i))
                .GroupBy(o => (o.Number, o.Output.Template, o.Output.Padding, o.Output.Compression, o.Output.Frames))
                .Select(g => g.First().Output with { Passes = [.. g.SelectMany(o => o.Output.Passes)] }),
        ];

    private static string Fits(OutputPlan output, string template) =>
        template.Contains("{pass}", StringComparison.Ordinal) == output.IsPerPass
            ? template
            : throw new PlanEditException(
                "template",
                output.IsPerPass
                    ? "These are files per pass: the name needs {pass}, or every pass would write the same file."
                    : "This is one file for several passes: the name must not hold {pass}. Arrange the layer as a file per pass instead."
            );
}
