using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Crates.Describing;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates;

/// <summary>A pass as it lies in a sequence of a crate.</summary>
/// <param name="Output">The planned output that it comes from.</param>
/// <param name="Plan">What is planned of it.</param>
/// <param name="Facts">What a rendered file says that has the channels of most of them; null when none opens.</param>
public sealed record PackedPass(PlannedOutput Output, PassPlan Plan, FileFacts? Facts)
{
    /// <summary>Its entry in the catalogue, or null.</summary>
    public PassDefinition? Definition { get; } = Output.Plan.Catalogue.Find(Plan.Pass);

    /// <summary>Its channels; empty where no file opens, and then the plan's hold.</summary>
    public ImmutableArray<PackedChannel> Channels { get; init; } = [];

    /// <summary>Name of its part; null in files of one part.</summary>
    public string? Part { get; init; }

    /// <summary>How colour and alpha go together, where that is changed; null for as it is.</summary>
    public AlphaMode? Alpha { get; init; }

    /// <summary>What its pixels say that has to be told; null for nothing.</summary>
    public PassMeasured? Measured { get; init; }

    /// <summary>What is done to it, and what was asked and is not done, in words.</summary>
    public ImmutableArray<string> Operations { get; init; } = [];
}
