namespace DuneCrate.Web.Access;

/// <summary>More is asked for at once than is done at once; the same can be asked for again in a moment. Answered as 429.</summary>
public sealed class TooBusyException() : Exception("Too many ask for that at once.");
