namespace DuneCrate.Imaging.Rasters;

/// <summary>A file as it is but for one byte.</summary>
internal sealed class PatchedStream(FileStream file, long at, byte value) : Stream
{
    /// <inheritdoc/>
    public override bool CanRead => true;

    /// <inheritdoc/>
    public override bool CanSeek => true;

    /// <inheritdoc/>
    public override bool CanWrite => false;

    /// <inheritdoc/>
    public override long Length => file.Length;

    /// <inheritdoc/>
    public override long Position
    {
        get => file.Position;
        set => file.Position = value;
    }

    /// <inheritdoc/>
    public override int Read(byte[] buffer, int offset, int count)
    {
        long from = file.Position;
        int read = file.Read(buffer, offset, count);
        if (at >= from && at < from + read)
        {
            buffer[offset + (int)(at - from)] = value;
        }

        return read;
    }

    /// <inheritdoc/>
    public override long Seek(long offset, SeekOrigin origin) => file.Seek(offset, origin);

    /// <inheritdoc/>
    public override void Flush() { }

    /// <inheritdoc/>
    public override void SetLength(long value) => throw new NotSupportedException();

    /// <inheritdoc/>
    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}
