namespace DuneCrate.Planning.Rules;

/// <summary>Something that a receiver of crates asks for and a plan does not give.</summary>
/// <param name="Receiver">Who asks; empty when nobody is named.</param>
/// <param name="Layer">The layer that it is about; null for all.</param>
/// <param name="What">What is asked and not planned, a sentence.</param>
/// <param name="Remedy">What to do, a sentence.</param>
public sealed record ReceiverGap(string Receiver, string? Layer, string What, string Remedy);
