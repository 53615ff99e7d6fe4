namespace DuneCrate.Web.Access;

/// <summary>A person as every request asks for them.</summary>
/// <param name="Stamp">Changes when everything that they signed in with is to end.</param>
/// <param name="IsOpen">Whether the account is open.</param>
/// <param name="Visitor">What they may do.</param>
public sealed record KnownPerson(string Stamp, bool IsOpen, Visitor Visitor);
