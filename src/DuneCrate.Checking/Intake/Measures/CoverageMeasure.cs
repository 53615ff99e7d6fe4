using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>Where a pass with alpha covers the picture.</summary>
internal sealed class CoverageMeasure(int alpha, int width, int height) : PassMeasure
{
    private readonly BlockSums _blocks = new(width, height);

    public override IEnumerable<int> Needs => [alpha];

    public override void AddLine(ScanLine line) => _blocks.Add(line[alpha], line.Row);

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics) => facts with { Coverage = Signature(_blocks) };

    /// <summary>Block means as bytes.</summary>
    public static byte[] Signature(BlockSums blocks) =>
        [.. Enumerable.Range(0, BlockSums.Across * BlockSums.Down).Select(b => (byte)Math.Round(Math.Clamp(blocks.Mean(b), 0, 1) * 255))];
}
