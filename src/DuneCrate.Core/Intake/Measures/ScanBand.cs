using System.Runtime.InteropServices;
using DuneCrate.Core.Images;

namespace DuneCrate.Core.Intake.Measures;

/// <summary>Some lines of a picture as they are stored: the data window's width, in each line the channels one after the other.</summary>
/// <param name="lines">The samples.</param>
/// <param name="box">Where they stand, in data window coordinates.</param>
/// <param name="offsets">Byte of a line at which each channel begins.</param>
internal readonly ref struct ScanBand(ReadOnlySpan<byte> lines, PixelBox box, ReadOnlySpan<int> offsets)
{
    private readonly ReadOnlySpan<byte> _lines = lines;
    private readonly ReadOnlySpan<int> _offsets = offsets;
    private readonly int _bytesPerLine = lines.Length / (int)box.Height;

    /// <summary>The pixels.</summary>
    public PixelBox Box { get; } = box;

    /// <summary>Pixels of a line.</summary>
    public int Width => (int)Box.Width;

    /// <summary>Lines.</summary>
    public int Height => (int)Box.Height;

    /// <summary>A line's samples of a half channel; <paramref name="row"/> from 0.</summary>
    public ReadOnlySpan<ushort> Halves(int channel, int row) =>
        MemoryMarshal.Cast<byte, ushort>(_lines.Slice(row * _bytesPerLine + _offsets[channel], Width * 2));
}
