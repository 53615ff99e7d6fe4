using System.Collections.Immutable;
using DuneCrate.Core.Images.Statistics;
using DuneCrate.Core.Intake.Measures;
using DuneCrate.Core.Rebuild;

namespace DuneCrate.Core.Intake;

/// <summary>Measures the rebuild while a file's lines go by.</summary>
internal sealed class RebuildScan
{
    private readonly RebuildRecipe _recipe;
    private readonly RebuildMeasure _measure;
    private readonly int[] _beauty;
    private readonly int[][][] _terms;
    private readonly float[][] _beautyLines;
    private readonly ProductLines _products;

    private RebuildScan(RebuildRecipe recipe, IReadOnlyDictionary<string, int> channels, int width)
    {
        _recipe = recipe;
        _beauty = [.. recipe.Beauty.Select(c => channels[c])];
        _terms = [.. recipe.Terms.Select(t => t.Factors.Select(f => f.Select(c => channels[c]).ToArray()).ToArray())];
        _beautyLines = new float[3][];
        _products = new ProductLines(_terms.Select(t => t.Length), width);
        _measure = new RebuildMeasure(recipe, width, _products.HasProducts);
    }

    /// <summary>Indices of the channels that must be there as floats.</summary>
    public IEnumerable<int> Needs => [.. _beauty, .. _terms.SelectMany(t => t.SelectMany(f => f))];

    /// <summary>The scan of a recipe, or null when a channel is not there.</summary>
    public static RebuildScan? Create(RebuildRecipe? recipe, ImmutableArray<ScanChannel> channels, int width)
    {
        var index = channels.Select((c, i) => (c.Name, i)).ToDictionary(c => c.Name, c => c.i);
        return recipe is not null && recipe.Channels.All(index.ContainsKey) ? new RebuildScan(recipe, index, width) : null;
    }

    /// <summary>Takes the next line.</summary>
    public void AddLine(ScanLine line)
    {
        for (int colour = 0; colour < 3; colour++)
        {
            _beautyLines[colour] = line[_beauty[colour]];
            for (int t = 0; t < _terms.Length; t++)
            {
                for (int f = 0; f < _terms[t].Length; f++)
                {
                    _products.Factors[t][f][colour] = line[_terms[t][f][colour]];
                }
            }
        }

        _products.Multiply();
        _measure.AddLine(_beautyLines, _products.Terms, line.Window.MinX, line.Y, _products.HasProducts ? _products.Factors : null);
    }

    /// <summary>The result; means of terms that are single passes are those of their channels.</summary>
    public RebuildFacts Finish(ChannelStatistics[] statistics)
    {
        RebuildFacts facts = _measure.Finish();
        return _products.HasProducts
            ? facts
            : facts with
            {
                Terms = [.. facts.Terms.Select((t, i) => t with { Mean = _terms[i][0].Average(c => statistics[c].Finish().Mean) })],
            };
    }
}
