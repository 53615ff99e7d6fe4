using DuneCrate.Foundation.Naming;
using DuneCrate.Imaging.Listing;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Matching;

/// <summary>A sequence that no output claims.</summary>
/// <param name="Sequence">The sequence.</param>
/// <param name="Nearest">The output whose name is nearest, or null without a plan.</param>
/// <param name="Distance">Edit distance to that name, the number left out.</param>
/// <param name="Kind">How it misses that name.</param>
public sealed record StraySequence(FileSequence Sequence, PlannedOutput? Nearest, int Distance, StrayKind Kind)
{
    /// <summary>Whether the name is so near an output's that it must be meant for that one.</summary>
    public bool IsMisnamed => Kind != StrayKind.Unplanned;

    /// <summary>How a name misses an output's.</summary>
    internal static StrayKind KindOf(FrameName name, FrameName planned, int distance)
    {
        string found = name.Prefix + name.Suffix,
            wanted = planned.Prefix + planned.Suffix;
        return string.Equals(found, wanted, StringComparison.OrdinalIgnoreCase) ? StrayKind.Case
            : name.Prefix == planned.Prefix
            && IntakeFile.FormatOf("a" + name.Suffix) is { Length: > 0 } one
            && IntakeFile.FormatOf("a" + planned.Suffix) is { Length: > 0 } other
            && one != other
                ? StrayKind.Format
            : NameSlip.AreVersions(found, wanted) ? StrayKind.Version
            : NameSlip.IsSlip(distance, wanted) ? StrayKind.Misnamed
            : StrayKind.Unplanned;
    }
}
