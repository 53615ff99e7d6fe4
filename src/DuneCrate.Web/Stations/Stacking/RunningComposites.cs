using DuneCrate.Web.Jobs;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>Composites that are being written, or wait for it, by the keys of their stacks.</summary>
public sealed class RunningComposites : RunningJobs;
