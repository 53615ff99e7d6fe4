using System.Collections.Frozen;
using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;

namespace DuneCrate.Checking.Rules;

/// <summary>Every rule, in the order of the rules page.</summary>
public static class RuleBook
{
    /// <summary>The rule that holds sums against the beauty; the Stack station shows its limits.</summary>
    public static readonly RebuildResidual Residual = new();

    /// <summary>The rules.</summary>
    public static readonly ImmutableArray<FileRule> All =
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
        new FilesNewer(),
        new FilesCopy(),
        new FilesStray(),
        new FormatType(),
        new FormatResolution(),
        new FormatDataWindow(),
        new FormatAspect(),
        new FormatRate(),
        new FormatCompression(),
        new FormatParts(),
        new FormatCamera(),
        new FormatColour(),
        new FormatContradiction(),
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
        Residual,
        new RebuildTerms(),
    ];

    private static readonly FrozenDictionary<string, FileRule> ById = All.ToFrozenDictionary(r => r.Id, StringComparer.Ordinal);

    /// <summary>What findings of an id are called; those that people make have a title too.</summary>
    public static string TitleOf(string id) => Find(id)?.Title ?? (id == SentBack.Id ? SentBack.Title : id);

    /// <summary>The rule of an id, or null.</summary>
    public static FileRule? Find(string id) => ById.GetValueOrDefault(id);

    /// <summary>The state that a finding gives its frames on the map.</summary>
    public static FrameState StateOf(Finding finding) => Find(finding.Rule)?.StateOf(finding) ?? FileRule.UsualStateOf(finding);

    /// <summary>Whether findings of its rule can be settled by changing the plan, as far as the rule says.</summary>
    public static bool CanReplan(Finding finding) => Find(finding.Rule) is IReplans;

    /// <summary>The change of the plan that settles a finding, or null when none does.</summary>
    /// <param name="finding">The finding.</param>
    /// <param name="context">What it was found in.</param>
    public static Replan? Replan(Finding finding, CheckContext context)
    {
        if (context.Plan is null || Find(finding.Rule) is not IReplans rule)
        {
            return null;
        }

        var at = new ReplanCase(finding, context);
        return at.HasOutput || at.Stray is not null ? rule.Replan(at) : null;
    }
}
