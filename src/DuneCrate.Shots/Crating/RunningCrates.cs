using DuneCrate.Shots.Jobs;

namespace DuneCrate.Shots.Crating;

/// <summary>Crates that are being sealed or read back, or wait for it, by their keys.</summary>
public sealed class RunningCrates : RunningJobs;
