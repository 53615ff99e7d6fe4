using DuneCrate.Core.Frames;

namespace DuneCrate.Web.Pages.Shot;

/// <summary>A line of the channel grid.</summary>
public sealed record ChannelLine(string Pass, string Channel, string Planned, string Found, string Mark, FrameSet Frames);
