using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>
/// A file format that cannot hold what is planned in it: half in PNG, five channels in TGA, two passes in one TIFF, 8 bits in OpenEXR.
/// </summary>
/// <remarks>Source: what each format stores: ISO/IEC 15948, TIFF 6.0, ISO/IEC 10918-1, OpenEXR.</remarks>
public sealed class PlanFormat : PlanRule
{
    public override string Id => "plan.format";

    public override string Title => "The file format cannot hold it";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The file format cannot hold the planned type or channels";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from layer in context.Layers
        from output in layer.Outputs
        let format = FileFormat.FromName(output.Template)
        where format is not null
        let passes = output.Passes.Where(p => !p.Off).ToArray()
        from finding in format.MaxChannels is not null && !output.IsPerPass && passes.Length > 1
            ? [Several(layer, format, passes)]
            : Types(context.Plan, layer, format, passes).Concat(Channels(layer, format, passes))
        select finding;

    private IEnumerable<PlanFinding> Types(Plan plan, LayerPlan layer, FileFormat format, PassPlan[] passes) =>
        from pass in passes
        from type in pass.Channels.Values.Distinct()
        where !format.Types.Contains(type)
        let right = format.Nearest(type)
        select Found(
            layer.Name,
            pass.Pass,
            "type",
            $"{pass.Pass} of {layer.Name} is planned as {type.Name()}, and {format.Name} holds "
                + $"{Words.List(format.Types.Select(t => t.Name()))}.",
            $"Plan it as {right.Name()}, or name a format that holds {type.Name()}.",
            new WriteCells([new CellText(layer.Name, pass.Pass, (PassSheet.Read(plan, layer, pass.Pass) with { Type = right }).ToString())])
        );

    private PlanFinding Several(LayerPlan layer, FileFormat format, PassPlan[] passes) =>
        Found(
            layer.Name,
            passes[0].Pass,
            "template",
            $"{Words.Count(passes.Length, "pass", "passes")} of {layer.Name} are planned in one {format.Name} file; it holds one picture.",
            "Write a file per pass, or OpenEXR.",
            new ArrangeOutputs([layer.Name], OutputArrangement.PerPass)
        );

    private IEnumerable<PlanFinding> Channels(LayerPlan layer, FileFormat format, PassPlan[] passes) =>
        from pass in passes
        where pass.Channels.Count > format.MaxChannels
        select Found(
            layer.Name,
            pass.Pass,
            "template",
            $"{pass.Pass} of {layer.Name} has {pass.Channels.Count} channels, and {format.Name} holds at most {format.MaxChannels}.",
            "Plan fewer channels, or write OpenEXR."
        );
}
