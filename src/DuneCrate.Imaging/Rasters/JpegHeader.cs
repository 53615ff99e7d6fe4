using System.Buffers.Binary;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging.Rasters;

/// <summary>The header of a JPEG. Source: ITU-T T.81, annex B.</summary>
internal static class JpegHeader
{
    private const int MostSegments = 4096;

    /// <summary>Reads up to the start of frame.</summary>
    public static RasterHeader Read(FileStream stream, string path)
    {
        Span<byte> marker = stackalloc byte[4],
            frame = stackalloc byte[6];
        stream.Position = 2;
        for (int i = 0; i < MostSegments; i++)
        {
            stream.ReadExactly(marker);
            int length = BinaryPrimitives.ReadUInt16BigEndian(marker[2..]);
            if (marker[0] != 0xff || length < 2)
            {
                break;
            }

            // Start of frame: C0 to CF but for the tables (C4), an extension (C8) and arithmetic conditioning (CC).
            if (marker[1] is >= 0xc0 and <= 0xcf and not (0xc4 or 0xc8 or 0xcc))
            {
                stream.ReadExactly(frame);
                int components = frame[5];
                return new RasterHeader
                {
                    Format = "jpeg",
                    Width = BinaryPrimitives.ReadUInt16BigEndian(frame[3..]),
                    Height = BinaryPrimitives.ReadUInt16BigEndian(frame[1..]),
                    Type = ChannelType.UInt8,
                    Channels = components switch
                    {
                        1 => ["Y"],
                        3 => ["R", "G", "B"],
                        4 => ["C", "M", "Y", "K"],
                        _ => throw new ImageException(path, stream.Position, $"the JPEG has {components} components"),
                    },
                    Compression = "jpeg",

                    // Progressive: coefficients of 16 bits of the whole picture.
                    HeldBytes = marker[1] is 0xc2 or 0xc6 or 0xca or 0xce
                        ? 2L
                            * components
                            * BinaryPrimitives.ReadUInt16BigEndian(frame[3..])
                            * BinaryPrimitives.ReadUInt16BigEndian(frame[1..])
                        : 0,
                    Unsupported = frame[0] == 8 ? null : $"JPEG with {frame[0]} bits a sample",
                };
            }

            stream.Position += length - 2;
        }

        throw new ImageException(path, stream.Position, "the JPEG has no frame");
    }
}
