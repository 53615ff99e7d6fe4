using System.Numerics.Tensors;

namespace DuneCrate.Core.Pictures;

/// <summary>How far two pictures of one window are apart, as a picture.</summary>
public static class PassDifference
{
    /// <summary>|a − b| · gain of each channel in turn; where one has fewer channels its last stands for the others.</summary>
    /// <param name="a">The one.</param>
    /// <param name="b">The other, with as many samples.</param>
    /// <param name="gain">What differences are multiplied by.</param>
    public static PassPixels Of(PassPixels a, PassPixels b, double gain)
    {
        int channels = b.Channels.IsEmpty ? 0 : Math.Min(3, a.Channels.Length);
        var planes = new List<(string, float[])>();
        for (int c = 0; c < channels; c++)
        {
            float[] off = new float[a.Channels[c].Plane.Length];
            TensorPrimitives.Subtract(a.Channels[c].Plane, b.Channels[Math.Min(c, b.Channels.Length - 1)].Plane, off);
            TensorPrimitives.Abs(off, off);
            TensorPrimitives.Multiply(off, (float)gain, off);
            planes.Add((a.Channels[c].Channel, off));
        }

        // A difference of data or ids is no data: it is shown as light.
        return a with
        {
            Definition = null,
            Channels = [.. planes],
        };
    }
}
