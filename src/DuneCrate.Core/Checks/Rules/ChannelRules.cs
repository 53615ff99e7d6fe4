using DuneCrate.Core.Intake;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>Which planned channels a file has, and under what names.</summary>
internal static class ChannelMatch
{
    /// <summary>Whether the channel is a pass's alpha.</summary>
    public static bool IsAlpha(string channel) => channel == "A" || channel.EndsWith(".A", StringComparison.Ordinal);

    /// <summary>
    /// The channel that stands in for a planned one that is absent: of the same pass by alias or near name, with the same last part,
    /// and itself not planned; or null.
    /// </summary>
    public static string? Alias(CheckLane lane, LanePass pass, string channel, FileFacts facts) =>
        facts.Channels.FirstOrDefault(c => PassOf(lane, c) == pass.Name && c.Name != channel && Last(c.Name) == Last(channel) && !IsPlanned(lane, c.Name))?.Name;

    /// <summary>Whether the lane plans a channel of the name.</summary>
    public static bool IsPlanned(CheckLane lane, string channel) => lane.Passes.Any(p => p.Channels.Any(c => c.Name == channel));

    /// <summary>The pass by the show's catalogue, whose aliases may say more than the shipped one's.</summary>
    private static string? PassOf(CheckLane lane, ChannelFacts channel) => lane.Catalogue == PassCatalogue.Shipped ? channel.Pass : lane.Catalogue.PassOfChannel(channel.Name);

    private static string Last(string channel) => channel[(channel.LastIndexOf('.') + 1)..];
}

/// <summary>A planned channel is absent. Alpha has a rule of its own.</summary>
public sealed class ChannelsMissing : Rule
{
    public override string Id => "channels.missing";

    public override string Title => "Channel is missing";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A planned channel is absent: in which frames";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null
        from pass in lane.Passes
        from odd in Group(lane.Readable, f => Absent(lane, pass, f.Facts))
        select About(lane, odd.Frames, string.Join(" ", pass.Channels.Select(c => c.Name)), $"without {odd.Found}",
            $"{odd.Found} of {pass.Name} {(odd.Found.Contains(' ') ? "are" : "is")} missing in {Words(odd.Frames)}.", Rerender(lane, odd.Frames), RemedyKind.Rerender, pass.Name);

    private static string? Absent(CheckLane lane, LanePass pass, FileFacts facts)
    {
        string[] absent =
        [
            .. pass.Channels.Select(c => c.Name)
                .Where(c => !(ChannelMatch.IsAlpha(c) && pass.Definition?.Kind == PassKind.Combined) && facts.FindChannel(c) is null && ChannelMatch.Alias(lane, pass, c, facts) is null),
        ];
        return absent.Length == 0 ? null : string.Join(" ", absent);
    }
}

/// <summary>A channel that the plan does not hold and that stands in for none it does.</summary>
public sealed class ChannelsExtra : Rule
{
    public override string Id => "channels.extra";

    public override string Title => "Channel not planned";

    public override Severity Severity => Severity.Note;

    public override string Question => "A channel that is not planned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null
        from odd in Group(lane.Readable, f => Extra(lane, f.Facts))
        select About(lane, odd.Frames, "planned channels only", odd.Found, $"{odd.Found} came and {(odd.Found.Contains(' ') ? "are" : "is")} not planned.",
            "Plan it if it is wanted; otherwise it only costs room.", RemedyKind.Replan);

    private static string? Extra(CheckLane lane, FileFacts facts)
    {
        var standIns = lane.Passes.SelectMany(p => p.Channels.Where(c => facts.FindChannel(c.Name) is null).Select(c => ChannelMatch.Alias(lane, p, c.Name, facts))).ToHashSet();
        string[] extra = [.. facts.Channels.Select(c => c.Name).Where(c => c != "A" && !ChannelMatch.IsPlanned(lane, c) && !standIns.Contains(c))];
        return extra.Length == 0 ? null : string.Join(" ", extra);
    }
}

/// <summary>A planned channel is there under an alias or a near name.</summary>
public sealed class ChannelsName : Rule
{
    public override string Id => "channels.name";

    public override string Title => "Channel under another name";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A channel is present under an alias or a near name";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null
        from pass in lane.Passes
        from channel in pass.Channels
        from odd in Group(lane.Readable.Where(f => f.Facts.FindChannel(channel.Name) is null), f => ChannelMatch.Alias(lane, pass, channel.Name, f.Facts))
        select About(lane, odd.Frames, channel.Name, odd.Found, $"{channel.Name} came as {odd.Found} in {Words(odd.Frames)}.",
            $"Rename the channel at the renderer, or plan it as {odd.Found}.", RemedyKind.Replan, pass.Name);
}

/// <summary>A channel is stored less precisely than planned; a note when more precisely.</summary>
public sealed class ChannelsType : Rule
{
    public override string Id => "channels.type";

    public override string Title => "Channel type differs";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A channel is less precise than planned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null
        from pass in lane.Passes
        from planned in pass.Channels.Select(c => c.Type).Distinct()
        from odd in Group(lane.Readable, f => Differing(pass, planned, f.Facts))
        let found = ChannelTypes.Find(odd.Found.Split(' ')[^1])!.Value
        let loses = found.LosesAgainst(planned)
        select About(lane, odd.Frames, planned.Name(), odd.Found,
            loses ? $"{odd.Found.Replace(" as ", " is stored as ", StringComparison.Ordinal)} in {Words(odd.Frames)}; {planned.Name()} is planned."
                : $"{odd.Found} is more precise than the planned {planned.Name()}: it costs room, nothing is lost.",
            loses ? Rerender(lane, odd.Frames) : "Change the plan if it is wanted.", loses ? RemedyKind.Rerender : RemedyKind.Replan, pass.Name) with
        { Severity = loses ? Severity.Blocker : Severity.Note };

    private static string? Differing(LanePass pass, ChannelType planned, FileFacts facts)
    {
        ChannelFacts[] odd = [.. pass.Channels.Where(c => c.Type == planned).Select(c => facts.FindChannel(c.Name)).OfType<ChannelFacts>().Where(c => c.Type != planned)];
        return odd.Length == 0 ? null : $"{string.Join(" ", odd.Where(c => c.Type == odd[0].Type).Select(c => c.Name))} as {odd[0].Type.Name()}";
    }
}

/// <summary>Alpha is planned and absent; a warning when it came unplanned.</summary>
public sealed class ChannelsAlpha : Rule
{
    public override string Id => "channels.alpha";

    public override string Title => "Alpha differs";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Alpha is planned and absent, or the reverse";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null
        from pass in lane.Passes
        where pass.Definition?.Kind == PassKind.Combined
        let planned = pass.Channels.Select(c => c.Name).FirstOrDefault(ChannelMatch.IsAlpha)
        from odd in Group(lane.Readable, f => planned is not null ? (f.Facts.FindChannel(planned) is null ? "no alpha" : null) : f.Facts.FindChannel("A") is null ? null : "A")
        select About(lane, odd.Frames, planned ?? "no alpha", odd.Found,
            planned is not null ? $"Alpha is missing in {Words(odd.Frames)}: the layer cannot be laid over anything." : $"{Words(odd.Frames)} carry an alpha that is not planned.",
            planned is not null ? Rerender(lane, odd.Frames) : "Plan the alpha if it is to be used.", planned is not null ? RemedyKind.Rerender : RemedyKind.Replan, pass.Name) with
        { Severity = planned is not null ? Severity.Blocker : Severity.Warning };
}
