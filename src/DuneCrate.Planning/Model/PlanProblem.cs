namespace DuneCrate.Planning.Model;

/// <summary>Something in a plan that cannot stay so.</summary>
/// <param name="Field">Where, as a path in the document: <c>layers[0].outputs[1].template</c>.</param>
/// <param name="Message">What is wrong and what to do.</param>
/// <param name="IsFinding">
/// Whether a rule of the plan tells of it where it stands, with a remedy: a person who edits may leave it so for a while, a document that
/// is brought in may not.
/// </param>
public readonly record struct PlanProblem(string Field, string Message, bool IsFinding = false)
{
    /// <summary>Field and message in one line.</summary>
    public override string ToString() => Field.Length == 0 ? Message : $"{Field}: {Message}";
}
