using System.Collections.Immutable;
using DuneCrate.Core.Checks.Rules;

namespace DuneCrate.Core.Checks;

/// <summary>Every rule, in the order of the rules page.</summary>
public static class RuleBook
{
    /// <summary>The rules.</summary>
    public static readonly ImmutableArray<Rule> All =
    [
        new FramesMissing(), new FramesExtra(), new FramesGap(), new FramesDuplicate(), new FramesStill(),
        new OutputsMissing(), new OutputsUnplanned(),
        new NamesTemplate(), new NamesPadding(), new NamesOrder(),
        new FilesUnreadable(), new FilesTruncated(), new FilesSettling(),
        new FormatResolution(), new FormatRate(), new FormatCompression(), new FormatCamera(),
        new ChannelsMissing(), new ChannelsExtra(), new ChannelsName(), new ChannelsType(), new ChannelsAlpha(),
        new PixelsNonFinite(), new PixelsBlack(), new PixelsDepth(), new PixelsRepeat(),
        new RebuildResidual(),
    ];

    /// <summary>The rule of an id, or null.</summary>
    public static Rule? Find(string id) => All.FirstOrDefault(r => r.Id == id);
}
