using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Planning.Sheet;

namespace DuneCrate.Core.Planning.Edits;

/// <summary>
/// Sets name, padding and compression of outputs of one kind in some layers, or in all of them; what is null stays as it is.
/// </summary>
public sealed record SetOutputs(ImmutableArray<string> Layers, PassHome? Home) : PlanEdit
{
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
        if (Template is not null && !NameTemplate.TryParse(Template.Trim(), out _, out string? problem))
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
            Padding is null ? null
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
                        Outputs =
                        [
                            .. layer.Outputs.Select(o =>
                                Home is { } home && PassSheet.HomeOf(layer, o) != home
                                    ? o
                                    : o with
                                    {
                                        Template = Template is null ? o.Template : Fits(o, Template.Trim()),
                                        Padding = padding ?? o.Padding,
                                        Compression = Compression ?? o.Compression,
                                    }
                            ),
                        ],
                    }
            );
        }

        return plan;
    }

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
