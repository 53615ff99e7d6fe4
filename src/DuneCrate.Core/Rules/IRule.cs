using System.Collections.Immutable;

namespace DuneCrate.Core.Rules;

/// <summary>What rules of the plan and rules of the check share: what the rules page and a show's settings need of them.</summary>
public interface IRule
{
    /// <summary>Stable id: family and name.</summary>
    string Id { get; }

    /// <summary>What it found, in a few words for lists.</summary>
    string Title { get; }

    /// <summary>Severity unless the show or the case says otherwise.</summary>
    Severity Severity { get; }

    /// <summary>The question, as in "frames of the plan with no file".</summary>
    string Question { get; }

    /// <summary>Numbers that a show can change.</summary>
    ImmutableArray<RuleThreshold> Thresholds { get; }
}
