using System.Globalization;

namespace DuneCrate.Shots.Views;

/// <summary>What is looked at: shared by every station and kept in the address.</summary>
/// <param name="Layer">Layer, or null for the first.</param>
/// <param name="Pass">Pass, or null for the layer's lead.</param>
/// <param name="Frame">Frame, or null for the first.</param>
/// <param name="Shown">Which findings and lanes are shown.</param>
public sealed record Selection(string? Layer, string? Pass, int? Frame, FindingQuery Shown)
{
    /// <summary>Nothing in particular.</summary>
    public static readonly Selection None = new(null, null, null, FindingQuery.All);

    /// <summary>The query of an address: <c>?layer=sub&amp;pass=beauty&amp;frame=1001</c>.</summary>
    public string Query =>
        "?"
        + string.Join(
            '&',
            new[]
            {
                Layer is null ? null : $"layer={Uri.EscapeDataString(Layer)}",
                Pass is null ? null : $"pass={Uri.EscapeDataString(Pass)}",
                Frame is { } frame ? string.Create(CultureInfo.InvariantCulture, $"frame={frame}") : null,
            }
                .Where(p => p is not null)
                .Concat(Shown.Parts.Select(p => $"{p.Name}={Uri.EscapeDataString(p.Value)}"))
        );
}
