namespace DuneCrate.Web.Access;

/// <summary>
/// A handler that is given a password, a code or the word of a link: how often it may be tried is bounded, under whatever address it is
/// called.
/// </summary>
[AttributeUsage(AttributeTargets.Method)]
public sealed class TriesSecretAttribute : Attribute;
