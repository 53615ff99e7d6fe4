using System.Collections.Immutable;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Checking.Intake;

/// <summary>What to read of a file.</summary>
/// <param name="Depth">Headers only, or every pixel.</param>
/// <param name="Rebuild">Which channels must sum to which, if the file holds them all.</param>
public sealed record FactsRequest(FactsDepth Depth, RebuildRecipe? Rebuild = null)
{
    /// <summary>The passes that are known: a show's, or those that ship.</summary>
    public PassCatalogue Catalogue { get; init; } = PassCatalogue.Shipped;

    /// <summary>Changes when measures do, so that what was measured in another way is measured again.</summary>
    private const string Measures = "2|";

    /// <summary>The pass of a file that holds one, so that its channels are that pass's whatever they are called; or null.</summary>
    public HeldPass? Held { get; init; }

    /// <summary>A text that differs whenever the answer would: part of the facts cache's key.</summary>
    public string Signature =>
        Depth == FactsDepth.Header
            ? ""
            : $"{Measures}{Rebuild?.Signature}#{(Catalogue == PassCatalogue.Shipped ? "" : Catalogue.Signature)}"
                + (Held is null ? "" : $"#{Held.Signature}");

    /// <summary>The channels of a part as they are scanned: under the plan's names and in the pass that they belong to.</summary>
    internal ImmutableArray<ScanChannel> Scanned(ImmutableArray<ChannelFacts> channels)
    {
        ILookup<string, string>? planned = Held?.Match([.. channels.Select(c => c.Name)]).ToLookup(m => m.Stored, m => m.Planned);
        return
        [
            .. channels.Select(c =>
                planned?[c.Name].FirstOrDefault() is { } name
                    ? new ScanChannel(name, c.Type, Held!.Pass)
                    : new ScanChannel(c.Name, c.Type, Held is null ? PassOf(c) : null)
            ),
        ];
    }

    /// <summary>The pass of a channel by the request's catalogue.</summary>
    private string? PassOf(ChannelFacts channel) =>
        Catalogue == PassCatalogue.Shipped ? channel.Pass : Catalogue.PassOfChannel(channel.Name) ?? channel.Pass;
}
