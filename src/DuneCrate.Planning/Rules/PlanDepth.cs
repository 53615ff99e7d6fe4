using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>A pass planned shallower than its least type; a note when it is wastefully deep (float colour).</summary>
/// <remarks>Source: IEEE 754, binary16: 11 significant bits.</remarks>
public sealed class PlanDepth : PlanRule
{
    public override string Id => "plan.depth";

    public override string Title => "Type does not fit the pass";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A type below the pass's least type; wastefully deep";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from layer in context.Layers
        from pass in layer.Passes
        let definition = context.Plan.Catalogue.Find(pass.Pass)
        where definition is not null
        from type in pass.Channels.Values.Distinct()
        let loses = type.LosesAgainst(definition.LeastType)
        let wastes = !loses && type == ChannelType.Float && definition.IsColour
        where loses || wastes
        let right = loses ? (definition.LeastType == ChannelType.UInt8 ? ChannelType.Half : definition.LeastType) : ChannelType.Half
        select Found(
            layer.Name,
            pass.Pass,
            "type",
            loses
                ? $"{pass.Pass} of {layer.Name} is planned as {type.Name()}; it needs {definition.LeastType.Name()}."
                : $"{pass.Pass} of {layer.Name} is planned as float: twice the size and reading time of half, and no use for colour.",
            $"Plan it as {right.Name()}.",
            new WriteCells([
                new CellText(layer.Name, pass.Pass, (PassSheet.Read(context.Plan, layer, pass.Pass) with { Type = right }).ToString()),
            ])
        ) with
        {
            Severity = loses ? Severity.Warning : Severity.Note,
        };
}
