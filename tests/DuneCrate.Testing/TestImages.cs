using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Imaging;

namespace DuneCrate.Testing;

/// <summary>Small pictures of known contents.</summary>
public static class TestImages
{
    /// <summary>A picture whose samples are a pure function of channel and place; whole numbers in uint channels.</summary>
    public static ExrImage Make(PixelBox window, ExrCompression compression, params (string Name, ChannelType Type)[] channels) =>
        Make(window, window, compression, ExrLineOrder.Increasing, [], null, channels);

    public static ExrImage Make(
        PixelBox data,
        PixelBox display,
        ExrCompression compression,
        ExrLineOrder order,
        ExrAttribute[] attributes,
        string? name,
        params (string Name, ChannelType Type)[] channels
    )
    {
        var part = new ExrPart(
            channels.Select(c => new ExrChannel(c.Name, c.Type.ToExr())),
            display,
            data,
            compression,
            attributes,
            name,
            lineOrder: order
        );
        int size = (int)(data.Width * data.Height);
        return new ExrImage(
            part,
            channels
                .Select((c, i) => (c.Name, Plane: Plane(size, (int)data.Width, i, c.Type)))
                .ToImmutableDictionary(c => c.Name, c => c.Plane)
        );
    }

    private static float[] Plane(int size, int width, int channel, ChannelType type)
    {
        var random = new Random(channel + 1);
        float[] plane = new float[size];
        for (int i = 0; i < size; i++)
        {
            float smooth = (i % width) / (float)width + (i / width) * 0.01f + channel;
            plane[i] =
                type == ChannelType.UInt ? random.Next(0, 70000)
                : (i / width) % 3 == 0 ? smooth
                : smooth + random.NextSingle() * 4 - 1;
        }

        return plane;
    }

    /// <summary>Writes a picture and returns the path.</summary>
    public static string Write(TempFolder folder, string name, params ExrImage[] images)
    {
        string path = folder[name];
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        ExrWriter.Write(Disk.File(path), images);
        return path;
    }
}
