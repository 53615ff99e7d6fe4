using DuneCrate.Planning.Edits;

namespace DuneCrate.Planning.Suggestions;

/// <summary>A pass that the scene asks for.</summary>
/// <param name="Layer">The layer.</param>
/// <param name="Pass">Key of the pass.</param>
/// <param name="Reason">Why, in words: "2 items emit: lamps, sign".</param>
/// <param name="Edit">What accepting it does.</param>
public sealed record PassSuggestion(string Layer, string Pass, string Reason, PlanEdit Edit);
