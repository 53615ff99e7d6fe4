using DuneCrate.Core.Documents;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>The Look station: a pass at a frame, exposure, and a probe over all passes.</summary>
public sealed class LookModel(ShotViews views) : ShotPage(views)
{
    /// <inheritdoc/>
    public override string Station => "Look";

    private PassPlan? Planned => View.Output?.Passes.FirstOrDefault(p => p.Pass == View.Selected.Pass);

    private PassDefinition? Definition => View.Plan.Catalogue.Find(View.Selected.Pass ?? "");

    /// <summary>Channels of the selected pass.</summary>
    public IEnumerable<string> Channels => Planned?.Channels.Keys ?? Enumerable.Empty<string>();

    /// <summary>Whether it is shown as direction and length.</summary>
    public bool IsMotion => Definition?.Has(PassMeasures.Motion) == true;

    /// <summary>Whether mattes can be taken out of it by name.</summary>
    public bool IsCryptomatte => Definition?.Has(PassMeasures.Cryptomatte) == true;

    /// <summary>The frames that a finding speaks of, of the file that is looked at.</summary>
    public IEnumerable<int> Told =>
        FrameSet.UnionOf((View.Report?.Findings ?? []).Where(f => f.Output == View.Output?.Key && f.Waived is null).Select(f => f.Frames));

    /// <summary>What sort of pass it is, in words.</summary>
    public string Kind =>
        Definition is { } pass
            ? $"{Words.Choice(pass.Kind)}, "
                + $"{string.Join(" ", Planned?.Channels.Values.Distinct().Select(t => t.Name()) ?? [])}"
                + $"{(pass.IsColour ? ", shown through sRGB" : ", shown without a view transform")}"
            : "";
}
