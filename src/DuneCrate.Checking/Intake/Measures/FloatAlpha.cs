using System.Numerics.Tensors;
using System.Runtime.CompilerServices;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>How colour goes with alpha, of channels of any type.</summary>
internal sealed class FloatAlpha(int[] colour, int alpha, int[][] glow, int width) : AlphaMeasure(colour, alpha, glow)
{
    private readonly float[] _brightest = new float[width];

    public override IEnumerable<int> Needs => [.. Colour, Alpha, .. Glow.SelectMany(g => g)];

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public override void AddLine(ScanLine line)
    {
        float[] cover = line[Alpha];
        if (!cover.AsSpan().ContainsAnyInRange(float.NegativeInfinity, SoftAlpha.SoftTo))
        {
            return;
        }

        TensorPrimitives.Max(line[Colour[0]], line[Colour[1]], _brightest);
        TensorPrimitives.Max(_brightest, line[Colour[2]], _brightest);
        for (int x = 0; x < cover.Length; x++)
        {
            float a = cover[x];
            if (a <= 0)
            {
                Empty++;
                if (_brightest[x] > SoftAlpha.Lit)
                {
                    NoteLit(Own(line, x), line.Window.MinX + x, line.Y);
                }
            }
            else if (SoftAlpha.IsSoft(a))
            {
                Soft++;
                Above += _brightest[x] > a + SoftAlpha.Lit ? 1 : 0;
            }
        }
    }

    private float Own(ScanLine line, int x)
    {
        float most = 0;
        for (int c = 0; c < 3; c++)
        {
            float own = line[Colour[c]][x];
            foreach (int[] pass in Glow)
            {
                own -= line[pass[c]][x];
            }

            most = MathF.Max(most, own);
        }

        return most;
    }
}
