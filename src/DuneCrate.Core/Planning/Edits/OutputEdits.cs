using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Serialization;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Sheet;

namespace DuneCrate.Core.Planning.Edits;

/// <summary>Sets name, padding and compression of outputs of one kind in some layers, or in all of them; what is null stays as it is.</summary>
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
    public override string Says => $"files of {Listed(Layers, "all layers")} named anew";

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

/// <summary>How a layer's passes are spread over files.</summary>
public enum OutputArrangement
{
    /// <summary>All passes in one multi-channel file.</summary>
    Shared,

    /// <summary>Half colour in one file, data and identity in another.</summary>
    DataApart,

    /// <summary>A file per pass.</summary>
    PerPass,

    /// <summary>As somebody arranged it by hand.</summary>
    Mixed,
}

/// <summary>Spreads the passes of some layers, or of all of them, over files.</summary>
public sealed record ArrangeOutputs(ImmutableArray<string> Layers, OutputArrangement Arrangement) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => $"{Listed(Layers, "all layers")} arranged as {Words(Arrangement)}";

    /// <summary>For people.</summary>
    public static string Words(OutputArrangement arrangement) =>
        arrangement switch
        {
            OutputArrangement.Shared => "one multi-channel file",
            OutputArrangement.DataApart => "colour, and data apart",
            OutputArrangement.PerPass => "a file per pass",
            _ => "arranged by hand",
        };

    /// <summary>How a layer is arranged.</summary>
    public static OutputArrangement Of(Plan plan, LayerPlan layer)
    {
        PassHome[] homes = [.. layer.Outputs.Select(o => PassSheet.HomeOf(layer, o))];
        return homes switch
        {
            [PassHome.Own] => OutputArrangement.PerPass,
            [] or [PassHome.Shared] => OutputArrangement.Shared,
            [PassHome.Shared, PassHome.Data]
            or [PassHome.Data]
                when layer.Outputs.All(o => o.Passes.All(p => IsExact(plan, p) == (PassSheet.HomeOf(layer, o) == PassHome.Data))) =>
                OutputArrangement.DataApart,
            _ => OutputArrangement.Mixed,
        };
    }

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        if (Arrangement == OutputArrangement.Mixed)
        {
            throw new PlanEditException("arrangement", "Arrange by hand in the cells of the pass sheet: shared, data or own.");
        }

        foreach (string name in Named(plan, Layers))
        {
            plan = ChangeLayer(
                plan,
                name,
                layer =>
                {
                    foreach (PassPlan pass in layer.AllPasses.ToArray())
                    {
                        PassHome home = Arrangement switch
                        {
                            OutputArrangement.PerPass => PassHome.Own,
                            OutputArrangement.DataApart when IsExact(plan, pass) => PassHome.Data,
                            _ => PassHome.Shared,
                        };
                        SheetCell cell = PassSheet.Read(plan, layer, pass.Pass) with { Home = home };
                        layer = PassSheet.Write(plan, layer, pass.Pass, home == PassHome.Own ? cell : cell with { Frames = null });
                    }

                    return layer;
                }
            );
        }

        return plan;
    }

    private static bool IsExact(Plan plan, PassPlan pass) => plan.Catalogue.Find(pass.Pass)?.Kind is PassKind.Data or PassKind.Identity;
}
