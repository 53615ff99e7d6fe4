using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Engine.Messages;

/// <summary>The one pass that a file holds.</summary>
/// <param name="Pass">Its key.</param>
/// <param name="Channels">The names that the plan gives its channels.</param>
public sealed record HeldMessage(string Pass, ImmutableArray<string> Channels)
{
    /// <summary>The message of a pass, or null.</summary>
    public static HeldMessage? Of(HeldPass? held) => held is null ? null : new HeldMessage(held.Pass, held.Channels);

    /// <summary>The pass, by a catalogue.</summary>
    /// <exception cref="FormatException">It is none.</exception>
    public HeldPass In(PassCatalogue catalogue) =>
        HeldPass.Create(Pass, catalogue.Find(Pass), Channels)
        ?? throw new FormatException($"a message names {Pass} for a pass with channels that are not told apart");
}
