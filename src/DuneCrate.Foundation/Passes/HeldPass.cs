using System.Collections.Immutable;

namespace DuneCrate.Foundation.Passes;

/// <summary>
/// The one pass that a file holds, with the channels that the plan gives it. Such a file may call them by their last part
/// (<c>R G B A</c>, <c>Y</c>, <c>Z</c>), whatever the plan calls them (common practice: programs that write a file per pass know no
/// layers of channels). Two are equal when pass and channels are. Immutable.
/// </summary>
public sealed record HeldPass
{
    /// <summary>What a single channel is called, the likeliest first: grey, a distance, or a colour of three that are alike.</summary>
    private static readonly string[] Single = ["Y", "Z", "R", "V", "A"];

    private readonly bool _isGrey;

    private HeldPass(string pass, ImmutableArray<string> channels, PassDefinition? definition)
    {
        (Pass, Channels, _isGrey) = (pass, channels, definition?.Kind is PassKind.Modulate or PassKind.Look);
        Signature = $"{pass}={string.Join(',', channels)}{(_isGrey ? "~" : "")}";
    }

    /// <summary>Key of the pass.</summary>
    public string Pass { get; }

    /// <summary>The names that the plan gives its channels, in the plan's order.</summary>
    public ImmutableArray<string> Channels { get; }

    /// <summary>A text that differs whenever the answer of <see cref="Match"/> could.</summary>
    public string Signature { get; }

    /// <summary>The pass of a file; null when the last parts of its channels do not tell them apart, as with Cryptomatte's ranks.</summary>
    public static HeldPass? Create(string pass, PassDefinition? definition, IEnumerable<string> channels)
    {
        ImmutableArray<string> names = [.. channels];
        return
            names.IsEmpty
            || definition?.Has(PassMeasures.Cryptomatte) == true
            || names.Select(ChannelNames.LastOf).Distinct().Count() < names.Length
            ? null
            : new HeldPass(pass, names, definition);
    }

    /// <summary>
    /// Which stored channel each planned one is. A name that is there stands for itself; otherwise the last part does, then red, green and
    /// blue in the order of a vector's axes, then for a single channel whatever one there is, then one grey for all three of an occlusion.
    /// </summary>
    /// <param name="stored">The names in the file.</param>
    /// <returns>Planned and stored name, without those that are not there.</returns>
    public ImmutableArray<(string Planned, string Stored)> Match(IReadOnlyCollection<string> stored)
    {
        var plain = stored.Where(c => !c.Contains('.', StringComparison.Ordinal)).ToList();
        string? Plain(string name) => plain.Find(c => c == name) ?? plain.Find(c => c.Equals(name, StringComparison.OrdinalIgnoreCase));
        string[] values = [.. Channels.Where(c => !ChannelNames.IsAlpha(c))];
        bool isSingle = values.Length == 1 || Channels.Length == 1;
        var found = ImmutableArray.CreateBuilder<(string, string)>();
        foreach (string channel in Channels)
        {
            string last = ChannelNames.LastOf(channel);
            int axis = Math.Max("XYZ".IndexOf(last, StringComparison.Ordinal), "UVW".IndexOf(last, StringComparison.Ordinal));
            string? home = stored.Contains(channel) ? channel : Plain(last);
            home ??= axis >= 0 && values.Length > 1 ? Plain("RGB"[axis].ToString()) : null;
            home ??= isSingle && (Channels.Length == 1 || !ChannelNames.IsAlpha(channel)) ? AnyOf(Plain, plain) : null;
            home ??= _isGrey && last is ("R" or "G" or "B") ? Plain("Y") : null;
            if (home is not null)
            {
                found.Add((channel, home));
            }
        }

        return found.ToImmutable();
    }

    /// <inheritdoc/>
    public bool Equals(HeldPass? other) => Signature == other?.Signature;

    /// <inheritdoc/>
    public override int GetHashCode() => Signature.GetHashCode(StringComparison.Ordinal);

    private static string? AnyOf(Func<string, string?> find, List<string> plain) =>
        Single.Select(find).FirstOrDefault(c => c is not null) ?? (plain.Count == 1 ? plain[0] : null);
}
