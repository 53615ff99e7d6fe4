using System.Runtime.CompilerServices;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>The ground of occlusion and shadow: white where the file's alpha says that nothing is there.</summary>
internal sealed class GroundMeasure(int value, int alpha) : PassMeasure
{
    private const float White = 0.98f;

    private long _empty,
        _dark,
        _white;
    private int[]? _at;

    public override IEnumerable<int> Needs => alpha < 0 ? [value] : [value, alpha];

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public override void AddLine(ScanLine line)
    {
        float[] values = line[value];
        float[]? cover = alpha < 0 ? null : line[alpha];
        for (int x = 0; x < values.Length; x++)
        {
            bool isWhite = values[x] >= White;
            _white += isWhite ? 1 : 0;
            if (cover is not null && cover[x] <= 0)
            {
                _empty++;
                if (!isWhite)
                {
                    _dark++;
                    _at ??= [line.Window.MinX + x, line.Y];
                }
            }
        }
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics) =>
        facts with
        {
            Ground = new GroundFacts(alpha < 0 ? null : _empty, _dark, _white, _at),
        };
}
