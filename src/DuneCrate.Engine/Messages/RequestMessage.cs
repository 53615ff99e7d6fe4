using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Engine.Messages;

/// <summary>What is asked of a file.</summary>
/// <param name="Rebuild">What sums to what, or null.</param>
/// <param name="Held">The one pass that it holds, or null.</param>
public sealed record RequestMessage(RebuildRecipe? Rebuild, HeldMessage? Held)
{
    /// <summary>The message of a request.</summary>
    public static RequestMessage Of(FactsRequest request) => new(request.Rebuild, HeldMessage.Of(request.Held));

    /// <summary>The request.</summary>
    /// <exception cref="FormatException">It is none.</exception>
    public FactsRequest In(FactsDepth depth, PassCatalogue catalogue) =>
        new(depth, Rebuild) { Catalogue = catalogue, Held = Held?.In(catalogue) };
}
