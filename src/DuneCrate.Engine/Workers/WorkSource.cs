using NATS.Client.JetStream;

namespace DuneCrate.Engine.Workers;

/// <summary>A queue that a worker takes from.</summary>
/// <param name="Site">Whose it is.</param>
/// <param name="Kind">What waits in it.</param>
/// <param name="Consumer">Its consumer.</param>
internal sealed record WorkSource(string Site, WorkKind Kind, INatsJSConsumer Consumer);
