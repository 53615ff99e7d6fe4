using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Ids that are asked of the pass by its own list and appear in no frame. Ids that merely stand on items of the scene may be out of view.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class IdentityAbsent : PixelRule
{
    public override string Id => "identity.absent";

    public override string Title => "Ids that are never seen";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Ids or flat colours planned and never seen";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is not null
        from pass in output.Passes
        let asked = output.Planned!.Passes.First(p => p.Pass == pass.Name).Ids
        where asked is not null && pass.Definition?.Has(PassMeasures.ObjectIds) == true
        let measured = output.Files.Select(f => Measured(pass, f)?.Ids).Where(i => i is not null).ToArray()
        where measured.Length > 0
        let seen = measured.SelectMany(i => i!.Ids.Select(v => v.Value)).ToHashSet()
        let absent = asked.Where(id => !seen.Contains(id.ToString(CultureInfo.InvariantCulture))).ToArray()
        where absent.Length > 0
        select About(
            output,
            output.Frames,
            $"ids {asked}",
            $"without {string.Join(", ", absent)}",
            $"{pass.Name} is asked for {string.Join(", ", absent)} and shows {(absent.Length == 1 ? "it" : "them")} in no frame.",
            "Look whether the item has its id, or is out of view throughout.",
            RemedyKind.Look,
            pass.Name
        );
}
