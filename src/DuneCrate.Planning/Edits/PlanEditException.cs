namespace DuneCrate.Planning.Edits;

/// <summary>A change that cannot be made.</summary>
/// <param name="field">The field where to say so.</param>
/// <param name="message">What is wrong and what to do.</param>
public sealed class PlanEditException(string field, string message) : Exception(message)
{
    /// <summary>The field where to say so.</summary>
    public string Field { get; } = field;
}
