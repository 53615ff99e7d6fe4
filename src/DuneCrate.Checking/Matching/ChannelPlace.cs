namespace DuneCrate.Checking.Matching;

/// <summary>Where a channel is in a file.</summary>
internal readonly record struct ChannelPlace(string Name, int Part, int Channel);
