using DuneCrate.Shots.Jobs;

namespace DuneCrate.Shots.Checking;

/// <summary>Checks that wait or run, by their keys.</summary>
public sealed class RunningChecks : RunningJobs;
