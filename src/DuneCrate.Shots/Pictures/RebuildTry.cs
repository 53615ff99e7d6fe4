using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Shots.Pictures;

/// <summary>A sum that is being tried: other terms than the plan's, terms that are off or have a gain.</summary>
/// <param name="Sum">The terms as "a + b × c"; empty for those of the plan.</param>
/// <param name="Weights">What each term is multiplied by, in the sum's order; those that are not said are 1.</param>
public sealed record RebuildTry(string Sum, ImmutableArray<double> Weights)
{
    private const double MostStops = 16;
    private const string Off = "off";

    /// <summary>The plan's sum as it is.</summary>
    public static readonly RebuildTry None = new("", []);

    /// <summary>Reads what an address says.</summary>
    /// <param name="sum">The terms, as in <see cref="Sum"/>.</param>
    /// <param name="gains">Stops or "off" for each term, with commas between.</param>
    public static RebuildTry Read(string sum, string gains) =>
        new(
            sum,
            [
                .. gains
                    .Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                    .Select(g =>
                        g == Off ? 0
                        : double.TryParse(g, CultureInfo.InvariantCulture, out double stops)
                            ? Math.Pow(2, Math.Clamp(stops, -MostStops, MostStops))
                        : 1
                    ),
            ]
        );

    /// <summary>The terms; the plan's when they cannot be read.</summary>
    public ImmutableArray<RebuildTerm> TermsIn(LayerPlan layer) =>
        Problem(layer) is null && Sum.Length > 0 ? RebuildSum.Parse(Sum) : layer.Rebuild;

    /// <summary>What is wrong with the sum, for people; or null.</summary>
    public string? Problem(LayerPlan layer)
    {
        try
        {
            return RebuildSum.Parse(Sum).SelectMany(t => t.Factors).FirstOrDefault(f => layer.FindPass(f) is null) is { } missing
                ? $"{layer.Name} has no pass {missing}."
                : null;
        }
        catch (FormatException e)
        {
            return e.Message;
        }
    }

    /// <summary>The layer with the sum that is tried.</summary>
    public LayerPlan In(LayerPlan layer) => layer with { Rebuild = TermsIn(layer) };

    /// <summary>The weights of so many terms.</summary>
    public ImmutableArray<double> WeightsFor(int terms) =>
        Weights.All(w => w == 1) ? [] : [.. Enumerable.Range(0, terms).Select(t => t < Weights.Length ? Weights[t] : 1)];

    /// <summary>The gain of a term in stops; null for one that is off.</summary>
    public double? StopsOf(int term) =>
        term >= Weights.Length ? 0
        : Weights[term] == 0 ? null
        : Math.Log2(Weights[term]);

    /// <summary>The same as a query, behind an ampersand; empty for the plan's.</summary>
    public string Query =>
        (Sum.Length > 0 ? $"&sum={Uri.EscapeDataString(Sum)}" : "")
        + (
            Weights.All(w => w == 1)
                ? ""
                : "&gains="
                    + string.Join(',', Weights.Select((_, i) => StopsOf(i)?.ToString("0.####", CultureInfo.InvariantCulture) ?? Off))
        );
}
