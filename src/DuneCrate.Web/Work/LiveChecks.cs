namespace DuneCrate.Web.Work;

/// <summary>Checks that wait or run, by their keys.</summary>
public sealed class LiveChecks : LiveWork;
