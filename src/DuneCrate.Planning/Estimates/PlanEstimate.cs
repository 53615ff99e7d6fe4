using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Estimates;

/// <summary>
/// What a plan will come to: bytes from size, types and a compression ratio, which is a test frame's where there is one; hours from a test
/// frame's time × frames ÷ machines.
/// </summary>
public sealed record PlanEstimate
{
    /// <summary>
    /// Bytes that every file has besides its pixels and attributes: magic and version 8, the end of the header, and 16 for each chunk's
    /// table entry and
    /// size. Source: <em>OpenEXR File Layout</em>.
    /// </summary>
    private const double HeaderBytes = 500,
        BytesPerChannelName = 40;

    /// <summary>By output, in the plan's order.</summary>
    public required ImmutableArray<OutputEstimate> Outputs { get; init; }

    /// <summary>By layer that is rendered.</summary>
    public required ImmutableArray<LayerEstimate> Layers { get; init; }

    /// <summary>Bytes of one pass of one layer over all frames, by layer and pass.</summary>
    public required ImmutableDictionary<(string Layer, string Pass), double> PassBytes { get; init; }

    /// <summary>All files.</summary>
    public long Files => Layers.Sum(l => l.Files);

    /// <summary>All bytes.</summary>
    public double Bytes => Layers.Sum(l => l.Bytes);

    /// <summary>Hours on all machines together, or null without a time for every layer.</summary>
    public double? Hours => Layers.Length > 0 && Layers.All(l => l.Hours is not null) ? Layers.Sum(l => l.Hours!.Value) / Machines : null;

    /// <summary>Bytes of the largest file.</summary>
    public double LargestFile => Outputs.Select(o => o.BytesPerFrame).DefaultIfEmpty(0).Max();

    /// <summary>Machines that render at once.</summary>
    public required int Machines { get; init; }

    /// <summary>Estimates a plan.</summary>
    public static PlanEstimate Compute(Plan plan)
    {
        TestFrame? test = plan.Shot.TestFrame;
        var passBytes = ImmutableDictionary.CreateBuilder<(string, string), double>();
        var outputs = ImmutableArray.CreateBuilder<OutputEstimate>();
        foreach (PlannedOutput output in PlannedOutput.From(plan))
        {
            bool isKnown = test?.Ratios is not null && output.Passes.All(p => test.Ratios.ContainsKey($"{output.Layer.Name}/{p.Pass}"));
            double[] usual =
            [
                .. output.Passes.Select(p =>
                    isKnown ? RawBytes(p, plan.Shot.DataWindow) * test!.Ratios![$"{output.Layer.Name}/{p.Pass}"] : Usual(plan, output, p)
                ),
            ];
            double expected = usual.Sum() + Overhead(plan, output, plan.Shot.DataWindow.Height);
            bool isMeasured = test?.Bytes?.ContainsKey(output.Key) == true;
            double perFrame = isMeasured ? Measured(plan, output, test!) : expected;
            outputs.Add(new OutputEstimate(output, output.Frames.LongCount, perFrame, isMeasured || isKnown));
            for (int p = 0; p < usual.Length; p++)
            {
                (string, string) key = (output.Layer.Name, output.Passes[p].Pass);
                passBytes[key] =
                    passBytes.GetValueOrDefault(key) + (usual.Sum() > 0 ? usual[p] / usual.Sum() : 0) * perFrame * output.Frames.LongCount;
            }
        }

        return new PlanEstimate
        {
            Outputs = outputs.ToImmutable(),
            PassBytes = passBytes.ToImmutable(),
            Machines = Math.Max(1, plan.Show.Machines ?? 1),
            Layers =
            [
                .. outputs
                    .GroupBy(o => o.Output.Layer.Name)
                    .Select(g => new LayerEstimate(
                        g.Key,
                        g.Sum(o => o.Files),
                        g.Sum(o => o.BytesPerFrame),
                        g.Sum(o => o.Bytes),
                        MachineHours(test, g.Key, g.Max(o => o.Files))
                    )),
            ],
        };
    }

    /// <summary>Raw bytes of a pass in one frame of a data window.</summary>
    public static double RawBytes(PassPlan pass, PixelBox window) =>
        (double)window.Width * window.Height * pass.Channels.Values.Sum(t => t.Bytes());

    /// <summary>
    /// What a test frame's file says of the passes in it: packed over raw bytes by "layer/pass", the file shared out by the usual ratios.
    /// </summary>
    /// <param name="plan">The plan of the test frame: its size, its one frame.</param>
    /// <param name="output">The output.</param>
    /// <param name="bytes">Bytes of its file.</param>
    public static IEnumerable<KeyValuePair<string, double>> Ratios(Plan plan, PlannedOutput output, long bytes)
    {
        double[] usual = [.. output.Passes.Select(p => Usual(plan, output, p))];
        double scale = Math.Max(0, bytes - Overhead(plan, output, plan.Shot.DataWindow.Height)) / Math.Max(1, usual.Sum());
        return output.Passes.Select(
            (p, i) =>
                KeyValuePair.Create(
                    $"{output.Layer.Name}/{p.Pass}",
                    Math.Round(scale * usual[i] / Math.Max(1, RawBytes(p, plan.Shot.DataWindow)), 6)
                )
        );
    }

    private static double Usual(Plan plan, PlannedOutput output, PassPlan pass) =>
        RawBytes(pass, plan.Shot.DataWindow) * CompressionRatios.Usual(plan.Catalogue.Find(pass.Pass), output.Output.Compression);

    /// <summary>The test frame's pixels grown to the full area, its overhead to the full number of chunks.</summary>
    private static double Measured(Plan plan, PlannedOutput output, TestFrame test)
    {
        double small = Overhead(plan, output, (long)(plan.Shot.DataWindow.Height * test.Scale));
        return Math.Max(0, test.Bytes![output.Key] - small) / (test.Scale * test.Scale)
            + Overhead(plan, output, plan.Shot.DataWindow.Height);
    }

    private static double Overhead(Plan plan, PlannedOutput output, long height)
    {
        int lines = ExrCompression.Find(output.Output.Compression)?.LinesPerChunk ?? 16;
        return HeaderBytes + BytesPerChannelName * output.Passes.Sum(p => p.Channels.Count) + 16.0 * ((height + lines - 1) / lines);
    }

    private static double? MachineHours(TestFrame? test, string layer, long frames) =>
        test?.Seconds?.TryGetValue(layer, out double seconds) == true ? seconds / (test.Scale * test.Scale) * frames / 3600 : null;
}
