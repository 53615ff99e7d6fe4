namespace DuneCrate.Foundation.Rules;

/// <summary>A number that decides when a rule speaks.</summary>
/// <param name="Name">Name in documents.</param>
/// <param name="Default">The value that ships.</param>
/// <param name="Words">What it is, with the unit.</param>
public sealed record RuleThreshold(string Name, double Default, string Words);
