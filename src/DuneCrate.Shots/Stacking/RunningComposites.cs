using DuneCrate.Shots.Jobs;

namespace DuneCrate.Shots.Stacking;

/// <summary>Composites that are being written, or wait for it, by the keys of their stacks.</summary>
public sealed class RunningComposites : RunningJobs;
