using System.Numerics.Tensors;

namespace DuneCrate.Imaging.Stacking;

/// <summary>A strip at one frame, line by line from the top, ready to be laid in: gain, alpha and mask worked in. One thread at a time.
/// </summary>
internal sealed class StripLines(StackStrip strip, IStripRows rows, int width) : IDisposable
{
    private readonly StripRow _row = new(width);
    private readonly float _gain = (float)Math.Pow(2, strip.Gain);

    /// <summary>The strip.</summary>
    public StackStrip Strip => strip;

    /// <summary>Red, green and blue of the line, times alpha.</summary>
    public float[][] Colour => _row.Colour;

    /// <summary>Alpha of the line; 1 where the strip has none.</summary>
    public float[] Alpha => _row.Alpha;

    /// <summary>Opacity times mask.</summary>
    public float[] Weight => _row.Mask;

    /// <summary>Whether the weight is 1 everywhere.</summary>
    public bool IsWhole => strip.Mask is null && strip.Opacity == 1;

    /// <summary>The line where it is kept, if that is as it is to be laid in; or null.</summary>
    public KeptLine? Peek(int line) => IsWhole && strip.Gain == 0 && strip.Alpha == AlphaMode.Premultiplied ? rows.Peek(line) : null;

    /// <summary>Where the lines come from.</summary>
    public IStripRows Rows => rows;

    /// <summary>Reads a line of the composite, from 0 at the top of the display window.</summary>
    public void Read(int line, CancellationToken cancel)
    {
        rows.Read(line, _row, cancel);
        foreach (float[] colour in Colour)
        {
            if (strip.Gain != 0)
            {
                TensorPrimitives.Multiply(colour, _gain, colour);
            }

            if (strip.Alpha == AlphaMode.Straight)
            {
                TensorPrimitives.Multiply(colour, Alpha, colour);
            }
        }

        if (strip.Opacity < 1)
        {
            TensorPrimitives.Multiply(Weight, (float)strip.Opacity, Weight);
        }
    }

    /// <summary>Closes the files.</summary>
    public void Dispose() => rows.Dispose();
}
