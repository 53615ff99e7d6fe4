using DuneCrate.Web.Jobs;

namespace DuneCrate.Web.Stations.Crating;

/// <summary>Crates that are being sealed or read back, or wait for it, by their keys.</summary>
public sealed class RunningCrates : RunningJobs;
