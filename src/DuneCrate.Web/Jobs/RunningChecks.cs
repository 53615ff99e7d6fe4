namespace DuneCrate.Web.Jobs;

/// <summary>Checks that wait or run, by their keys.</summary>
public sealed class RunningChecks : RunningJobs;
