using DuneCrate.Core.Frames;

namespace DuneCrate.Web.Stations.Checking;

/// <summary>A line of the channel grid.</summary>
public sealed record ChannelLine(string Pass, string Channel, string Planned, string Found, string Mark, FrameSet Frames);
