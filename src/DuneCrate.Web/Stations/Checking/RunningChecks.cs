using DuneCrate.Web.Jobs;

namespace DuneCrate.Web.Stations.Checking;

/// <summary>Checks that wait or run, by their keys.</summary>
public sealed class RunningChecks : RunningJobs;
