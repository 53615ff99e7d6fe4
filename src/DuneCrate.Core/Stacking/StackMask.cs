namespace DuneCrate.Core.Stacking;

/// <summary>A channel that weighs a strip.</summary>
/// <param name="Source">Its files, with <c>#</c> for digits of the frame.</param>
/// <param name="Channel">The channel.</param>
public sealed record StackMask(string Source, string Channel)
{
    /// <summary>Whether 1 − the channel weighs.</summary>
    public bool Invert { get; init; }
}
