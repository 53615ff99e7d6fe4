using DuneCrate.Core.Passes;
using DuneCrate.Core.Rebuild;

namespace DuneCrate.Core.Intake;

/// <summary>What to read of a file.</summary>
/// <param name="Depth">Headers only, or every pixel.</param>
/// <param name="Rebuild">Which channels must sum to which, if the file holds them all.</param>
public sealed record FactsRequest(FactsDepth Depth, RebuildRecipe? Rebuild = null)
{
    /// <summary>The passes that are known: a show's, or those that ship.</summary>
    public PassCatalogue Catalogue { get; init; } = PassCatalogue.Shipped;

    /// <summary>A text that differs whenever the answer would: part of the facts cache's key.</summary>
    public string Signature =>
        Depth == FactsDepth.Header ? "" : $"{Rebuild?.Signature}#{(Catalogue == PassCatalogue.Shipped ? "" : Catalogue.Signature)}";

    /// <summary>The pass of a channel by the request's catalogue.</summary>
    public string? PassOf(ChannelFacts channel) =>
        Catalogue == PassCatalogue.Shipped ? channel.Pass : Catalogue.PassOfChannel(channel.Name) ?? channel.Pass;
}
