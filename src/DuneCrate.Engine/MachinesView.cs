using System.Collections.Immutable;
using DuneCrate.Engine.Messages;

namespace DuneCrate.Engine;

/// <summary>What there is to see of the engine at a moment.</summary>
/// <param name="Engine">Its address.</param>
/// <param name="Site">This server's site.</param>
/// <param name="Problem">Why it is not used now, in words; null when it is.</param>
/// <param name="Workers">Workers that were heard of lately, and for how long they have been silent.</param>
/// <param name="Runs">Runs on their way.</param>
/// <param name="Queues">Messages that wait at the engine, by queue and root.</param>
/// <param name="Aside">What was set aside.</param>
public sealed record MachinesView(
    string Engine,
    string Site,
    string? Problem,
    ImmutableArray<(WorkerNews News, TimeSpan Silent)> Workers,
    ImmutableArray<RunView> Runs,
    ImmutableArray<QueueView> Queues,
    ImmutableArray<AsideFile> Aside
);
