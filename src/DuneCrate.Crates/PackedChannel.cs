using DuneCrate.Foundation.Passes;

namespace DuneCrate.Crates;

/// <summary>A channel of a pass in a crate.</summary>
/// <param name="Planned">The name that the plan gives it.</param>
/// <param name="Stored">Its name in the rendered files.</param>
/// <param name="Name">Its name in the crate.</param>
/// <param name="Type">Its type in the crate.</param>
public sealed record PackedChannel(string Planned, string Stored, string Name, ChannelType Type);
