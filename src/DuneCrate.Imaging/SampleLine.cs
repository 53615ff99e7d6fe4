using System.Runtime.InteropServices;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging;

/// <summary>Samples of every type as they are stored in a line.</summary>
public static class SampleLine
{
    /// <summary>Samples as floats: 8- and 16-bit whole numbers stand for 0..1, all others for themselves.</summary>
    public static void ToFloats(ReadOnlySpan<byte> samples, ChannelType type, Span<float> to)
    {
        switch (type)
        {
            case ChannelType.UInt8:
                for (int i = 0; i < to.Length; i++)
                {
                    to[i] = samples[i] / 255f;
                }

                break;
            case ChannelType.UInt16:
                ReadOnlySpan<ushort> values = MemoryMarshal.Cast<byte, ushort>(samples);
                for (int i = 0; i < to.Length; i++)
                {
                    to[i] = values[i] / 65535f;
                }

                break;
            default:
                ExrImage.ToFloats(samples, type.ToExr(), to);
                break;
        }
    }
}
