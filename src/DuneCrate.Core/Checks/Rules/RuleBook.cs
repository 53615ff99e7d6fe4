using System.Collections.Immutable;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>Every rule, in the order of the rules page.</summary>
public static class RuleBook
{
    /// <summary>The rules.</summary>
    public static readonly ImmutableArray<Rule> All =
    [
        new FramesMissing(),
        new FramesExtra(),
        new FramesGap(),
        new FramesDuplicate(),
        new FramesStill(),
        new OutputsMissing(),
        new OutputsUnplanned(),
        new NamesTemplate(),
        new NamesPadding(),
        new NamesOrder(),
        new NamesCase(),
        new NamesCharacters(),
        new NamesVersion(),
        new FilesUnreadable(),
        new FilesTruncated(),
        new FilesSettling(),
        new FilesSize(),
        new FilesStale(),
        new FilesCopy(),
        new FormatType(),
        new FormatResolution(),
        new FormatDataWindow(),
        new FormatAspect(),
        new FormatRate(),
        new FormatCompression(),
        new FormatParts(),
        new FormatCamera(),
        new FormatColour(),
        new FormatDrift(),
        new ChannelsMissing(),
        new ChannelsExtra(),
        new ChannelsName(),
        new ChannelsType(),
        new ChannelsAlpha(),
        new PixelsNonFinite(),
        new PixelsNegative(),
        new PixelsBlack(),
        new PixelsConstant(),
        new PixelsDepth(),
        new PixelsClipped(),
        new PixelsRepeat(),
        new PixelsFlicker(),
        new PixelsFireflies(),
        new PixelsSeed(),
        new AlphaRange(),
        new AlphaSolid(),
        new AlphaPremultiplied(),
        new AlphaAgreement(),
        new DepthRange(),
        new DepthFiltered(),
        new DepthPrecision(),
        new NormalLength(),
        new UvRange(),
        new MotionStill(),
        new ModulateRange(),
        new IdentityUnknown(),
        new IdentityAbsent(),
        new IdentityFiltered(),
        new CryptoStorage(),
        new CryptoManifest(),
        new CryptoCoverage(),
        new RebuildResidual(),
        new RebuildTerms(),
    ];

    /// <summary>The rule of an id, or null.</summary>
    public static Rule? Find(string id) => All.FirstOrDefault(r => r.Id == id);
}
