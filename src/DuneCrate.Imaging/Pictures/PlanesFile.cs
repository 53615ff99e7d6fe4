using System.Collections.Immutable;
using System.IO.Compression;
using System.Numerics.Tensors;
using System.Runtime.InteropServices;
using System.Text;
using DuneCrate.Exr;

namespace DuneCrate.Imaging.Pictures;

/// <summary>
/// Planes of a picture in a file of our own that is quick to read back: what stands for them (little-endian), then the samples as half or
/// float in one zlib stream (RFC 1950).
/// </summary>
public static class PlanesFile
{
    private const string Magic = "dune-crate.planes/1";
    private const int MostChannels = 64,
        MostName = 400;

    /// <summary>
    /// Planes as they come back from a file: samples are kept as half where that is enough, which it is for light that is looked at, and
    /// where none is too large for it.
    /// </summary>
    /// <param name="planes">The planes.</param>
    /// <param name="isLight">Whether half is enough for them.</param>
    public static PicturePlanes AsKept(PicturePlanes planes, bool isLight) =>
        IsHalf(planes, isLight)
            ? planes with
            {
                Planes = planes.Planes.ToImmutableDictionary(p => p.Key, p => Array.ConvertAll(p.Value, v => (float)(Half)v)),
            }
            : planes;

    private static bool IsHalf(PicturePlanes planes, bool isLight) =>
        isLight && planes.Planes.Values.All(p => p.All(v => !float.IsFinite(v) || Math.Abs(v) <= (float)Half.MaxValue));

    /// <summary>Writes planes.</summary>
    /// <param name="to">Where to.</param>
    /// <param name="planes">The planes.</param>
    /// <param name="isLight">As for <see cref="AsKept"/>.</param>
    public static void Write(Stream to, PicturePlanes planes, bool isLight)
    {
        bool isHalf = IsHalf(planes, isLight);
        using (var head = new BinaryWriter(to, Encoding.UTF8, leaveOpen: true))
        {
            head.Write(Magic);
            foreach (int corner in (int[])[planes.Window.MinX, planes.Window.MinY, planes.Window.MaxX, planes.Window.MaxY, planes.Shrink])
            {
                head.Write(corner);
            }

            head.Write(planes.IsEncoded);
            head.Write(planes.Problem ?? "");
            head.Write(planes.Lost.Length);
            head.Write([.. planes.Lost.Select(l => (byte)(l ? 1 : 0))]);
            head.Write(isHalf);
            head.Write(planes.Planes.Count);
            foreach (string channel in planes.Planes.Keys)
            {
                head.Write(channel);
            }
        }

        using var packed = new ZLibStream(to, CompressionLevel.Fastest, leaveOpen: true);
        foreach (float[] plane in planes.Planes.Values)
        {
            if (isHalf)
            {
                var halves = new Half[plane.Length];
                TensorPrimitives.ConvertToHalf(plane, halves);
                packed.Write(MemoryMarshal.AsBytes(halves.AsSpan()));
            }
            else
            {
                packed.Write(MemoryMarshal.AsBytes(plane.AsSpan()));
            }
        }
    }

    /// <summary>Reads planes.</summary>
    /// <param name="from">Where from.</param>
    /// <param name="mostBytes">Bytes that the planes may take in memory.</param>
    /// <exception cref="InvalidDataException">It is no such file, a damaged one, or larger than is allowed.</exception>
    public static PicturePlanes Read(Stream from, long mostBytes)
    {
        try
        {
            using var head = new BinaryReader(from, Encoding.UTF8, leaveOpen: true);
            if (head.ReadString() != Magic)
            {
                throw new InvalidDataException("It holds no planes.");
            }

            var window = new PixelBox(head.ReadInt32(), head.ReadInt32(), head.ReadInt32(), head.ReadInt32());
            int shrink = head.ReadInt32();
            bool isEncoded = head.ReadBoolean();
            string problem = head.ReadString();
            int lost = head.ReadInt32();
            if (shrink < 1 || window.IsEmpty || lost < 0 || lost > PicturePlanes.Across(window.Height, shrink))
            {
                throw new InvalidDataException("Its window is wrong.");
            }

            ImmutableArray<bool> lines = [.. head.ReadBytes(lost).Select(b => b != 0)];
            bool isHalf = head.ReadBoolean();
            int count = head.ReadInt32();
            if (count is < 0 or > MostChannels || PicturePlanes.BytesOf(window, shrink, count) > mostBytes)
            {
                throw new InvalidDataException("It is larger than is allowed.");
            }

            string[] names = [.. Enumerable.Range(0, count).Select(_ => head.ReadString())];
            if (names.Any(n => n.Length > MostName) || names.Distinct().Count() != count)
            {
                throw new InvalidDataException("Its channels are wrong.");
            }

            using var packed = new ZLibStream(from, CompressionMode.Decompress, leaveOpen: true);
            int samples = PicturePlanes.Across(window.Width, shrink) * PicturePlanes.Across(window.Height, shrink);
            var planes = names.ToImmutableDictionary(n => n, _ => new float[samples]);
            var halves = new Half[isHalf ? samples : 0];
            // In the order of the file: that of a dictionary is another in every process.
            foreach (string name in names)
            {
                if (isHalf)
                {
                    packed.ReadExactly(MemoryMarshal.AsBytes(halves.AsSpan()));
                    TensorPrimitives.ConvertToSingle(halves, planes[name]);
                }
                else
                {
                    packed.ReadExactly(MemoryMarshal.AsBytes(planes[name].AsSpan()));
                }
            }

            return new PicturePlanes(planes, window, shrink, isEncoded, problem.Length > 0 ? problem : null) { Lost = lines };
        }
        catch (Exception e) when (e is EndOfStreamException or FormatException or ArgumentException)
        {
            throw new InvalidDataException("It is damaged.", e);
        }
    }
}
