using System.Numerics.Tensors;

namespace DuneCrate.Imaging.Pictures;

/// <summary>How far two pictures of one window are apart, as a picture.</summary>
public static class PassDifference
{
    /// <summary>
    /// |a − b| · gain of each channel in turn, or with its sign 0.5 + (a − b) · gain / 2: grey where they are equal.
    /// Where one has fewer channels its last stands for the others.
    /// </summary>
    /// <param name="a">The one.</param>
    /// <param name="b">The other, with as many samples.</param>
    /// <param name="gain">What differences are multiplied by.</param>
    /// <param name="isSigned">Whether it is told which of them has more.</param>
    public static PassPixels Of(PassPixels a, PassPixels b, double gain, bool isSigned = false)
    {
        int channels = b.Channels.IsEmpty ? 0 : Math.Min(3, a.Channels.Length);
        var planes = new List<(string, float[])>();
        for (int c = 0; c < channels; c++)
        {
            float[] off = new float[a.Channels[c].Plane.Length];
            TensorPrimitives.Subtract(a.Channels[c].Plane, b.Channels[Math.Min(c, b.Channels.Length - 1)].Plane, off);
            if (isSigned)
            {
                TensorPrimitives.Multiply(off, (float)gain / 2, off);
                TensorPrimitives.Add(off, 0.5f, off);
            }
            else
            {
                TensorPrimitives.Abs(off, off);
                TensorPrimitives.Multiply(off, (float)gain, off);
            }

            planes.Add((a.Channels[c].Channel, off));
        }

        // A difference of data or ids is no data: it is shown as light.
        return a with
        {
            Definition = null,
            Channels = [.. planes],
        };
    }

    /// <summary>
    /// Mean and greatest |a − b| over the samples of the channels that both have, by place; a sample that is a number in
    /// one of them alone makes both infinite.
    /// </summary>
    /// <param name="a">The one.</param>
    /// <param name="b">The other, with as many samples.</param>
    public static (double Mean, double Max) Size(PassPixels a, PassPixels b)
    {
        (double sum, double most, long count) = (0, 0, 0);
        for (int c = 0; c < Math.Min(a.Channels.Length, b.Channels.Length); c++)
        {
            (float[] ours, float[] theirs) = (a.Channels[c].Plane, b.Channels[c].Plane);
            count += ours.Length;
            for (int i = 0; i < ours.Length; i++)
            {
                if (ours[i] == theirs[i] || (float.IsNaN(ours[i]) && float.IsNaN(theirs[i])))
                {
                    continue;
                }

                double off = Math.Abs((double)ours[i] - theirs[i]);
                off = double.IsNaN(off) ? double.PositiveInfinity : off;
                sum += off;
                most = Math.Max(most, off);
            }
        }

        return (count == 0 ? 0 : sum / count, most);
    }
}
