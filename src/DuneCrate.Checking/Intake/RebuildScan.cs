using System.Collections.Immutable;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake;

/// <summary>Measures the rebuild while a file's lines go by.</summary>
internal sealed class RebuildScan
{
    private readonly RebuildRecipe _recipe;
    private readonly RebuildMeasure _measure;
    private readonly int[] _beauty;
    private readonly int[][][] _terms;
    private readonly float[][] _beautyLines;
    private readonly ProductLines _products;
    private readonly int[][]? _halves;
    private readonly int[] _starts;

    private RebuildScan(RebuildRecipe recipe, IReadOnlyDictionary<string, int> channels, ImmutableArray<ScanChannel> all, int width)
    {
        _recipe = recipe;
        _beauty = [.. recipe.Beauty.Select(c => channels[c])];
        _terms = [.. recipe.Terms.Select(t => t.Factors.Select(f => f.Select(c => channels[c]).ToArray()).ToArray())];
        _beautyLines = new float[3][];
        _products = new ProductLines(_terms.Select(t => t.Length), width);
        _measure = new RebuildMeasure(recipe, width, _products.HasProducts);
        _starts = new int[_terms.Length + 1];
        if (!_products.HasProducts && Channels.All(c => all[c].Type == ChannelType.Half))
        {
            _halves = [.. Enumerable.Range(0, 3).Select(colour => (int[])[_beauty[colour], .. _terms.Select(t => t[0][colour])])];
            for (int colour = 0; colour < 3; colour++)
            {
                _beautyLines[colour] = new float[width];
                foreach (float[][] term in _products.Terms)
                {
                    term[colour] = new float[width];
                }
            }
        }
    }

    /// <summary>Indices of the channels that must be there as floats.</summary>
    public IEnumerable<int> Needs => IsOfHalves ? [] : Channels;

    /// <summary>Whether bands are taken as they are stored, and no lines.</summary>
    public bool IsOfHalves => _halves is not null;

    private IEnumerable<int> Channels => [.. _beauty, .. _terms.SelectMany(t => t.SelectMany(f => f))];

    /// <summary>The scan of a recipe, or null when a channel is not there.</summary>
    public static RebuildScan? Create(RebuildRecipe? recipe, ImmutableArray<ScanChannel> channels, int width)
    {
        var index = channels.Select((c, i) => (c.Name, i)).ToDictionary(c => c.Name, c => c.i);
        return recipe is not null && recipe.Channels.All(index.ContainsKey) ? new RebuildScan(recipe, index, channels, width) : null;
    }

    /// <summary>Takes a band whose channels are all halves and whose terms are single passes.</summary>
    public void AddBand(in ScanBand band)
    {
        ReadOnlySpan<ushort> words = band.Words;
        for (int row = 0; row < band.Height; row++)
        {
            bool anyOff = false;
            for (int colour = 0; colour < 3; colour++)
            {
                for (int i = 0; i < _starts.Length; i++)
                {
                    _starts[i] = band.WordOf(_halves![colour][i], row);
                }

                var lines = new HalfRebuildLines(words, _starts, band.Width);
                if (_measure.Subtract(lines, band.Box.MinX, band.Box.MinY + row))
                {
                    anyOff = true;
                    ToFloats(words, band.Width, colour);
                    _measure.AddOff(_beautyLines[colour], _products.Terms, colour);
                }
            }

            _measure.EndLine(anyOff);
        }
    }

    private void ToFloats(ReadOnlySpan<ushort> words, int width, int colour)
    {
        for (int i = 0; i < _starts.Length; i++)
        {
            HalfLine.ToFloats(words.Slice(_starts[i], width), i == 0 ? _beautyLines[colour] : _products.Terms[i - 1][colour]);
        }
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
