using System.Runtime.InteropServices;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// The zlib that ships inside the runtime (libSystem.IO.Compression.Native), called with all of a block at once: a stream over it feeds it
/// 8 KB at a time, which costs an eighth of the time. Its names are the runtime's own and not promised, so that it is tried at start and a
/// stream is used where anything about it is otherwise. Source: RFC 1950; zlib's manual for inflate, inflateInit2 and inflateReset2.
/// </summary>
internal sealed unsafe partial class ZlibInflater : IDisposable
{
    private const string Library = "libSystem.IO.Compression.Native";

    private const int Ok = 0,
        StreamEnd = 1,
        BufferError = -5,
        Finish = 4,
        ZlibWindow = 15;

    [ThreadStatic]
    private static ZlibInflater? _own;

    private readonly ZStream* _stream;

    private ZlibInflater()
    {
        _stream = (ZStream*)NativeMemory.AllocZeroed((nuint)sizeof(ZStream));
        if (InflateInit2(_stream, ZlibWindow) != Ok)
        {
            NativeMemory.Free(_stream);
            throw new InvalidOperationException("zlib does not begin.");
        }
    }

    /// <summary>Frees what a thread that has ended used.</summary>
    ~ZlibInflater() => Free();

    /// <summary>Whether the runtime's zlib is there and does what it should; tried once.</summary>
    public static bool IsThere { get; } = Probe();

    /// <summary>The inflater of this thread, whose memory is used again.</summary>
    public static ZlibInflater Own => _own ??= new ZlibInflater();

    /// <summary>Inflates a whole stream.</summary>
    /// <returns>Bytes made; one more than fit when there are more; −1 when the bytes are no whole zlib stream.</returns>
    public int Into(ReadOnlySpan<byte> packed, Span<byte> to)
    {
        if (InflateReset2(_stream, ZlibWindow) != Ok)
        {
            return -1;
        }

        byte spare = 0;
        fixed (byte* from = packed)
        fixed (byte* into = to)
        {
            _stream->NextIn = from;
            _stream->AvailableIn = (uint)packed.Length;
            _stream->NextOut = into;
            _stream->AvailableOut = (uint)to.Length;
            int code = Call(_stream, Finish);
            int made = to.Length - (int)_stream->AvailableOut;
            if (code == StreamEnd)
            {
                return made;
            }

            if (code is not (Ok or BufferError) || made < to.Length)
            {
                return -1;
            }

            // The room is full and the end was not met: one byte more tells whether there is more, or only the checksum is left.
            _stream->NextOut = &spare;
            _stream->AvailableOut = 1;
            code = Call(_stream, Finish);
            return _stream->AvailableOut == 0 ? made + 1
                : code == StreamEnd ? made
                : -1;
        }
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        Free();
        GC.SuppressFinalize(this);
    }

    private void Free()
    {
        if (_stream is not null)
        {
            InflateEnd(_stream);
            NativeMemory.Free(_stream);
        }
    }

    /// <summary>Tries it on what <see cref="Inflate.Trial"/> holds.</summary>
    private static bool Probe()
    {
        try
        {
            ReadOnlySpan<byte> packed = Inflate.Trial;
            Span<byte> to = stackalloc byte[3],
                less = stackalloc byte[2];
            using var tried = new ZlibInflater();
            return tried.Into(packed, to) == 3
                && to.SequenceEqual("abc"u8)
                && tried.Into(packed, less) == 3
                && tried.Into(packed[..9], to) == -1
                && tried.Into("sand"u8, to) == -1;
        }
        catch (Exception e)
            when (e is DllNotFoundException or EntryPointNotFoundException or BadImageFormatException or InvalidOperationException)
        {
            return false;
        }
    }

    [LibraryImport(Library, EntryPoint = "CompressionNative_InflateInit2_")]
    private static partial int InflateInit2(ZStream* stream, int windowBits);

    [LibraryImport(Library, EntryPoint = "CompressionNative_InflateReset2_")]
    private static partial int InflateReset2(ZStream* stream, int windowBits);

    [LibraryImport(Library, EntryPoint = "CompressionNative_Inflate")]
    private static partial int Call(ZStream* stream, int flush);

    [LibraryImport(Library, EntryPoint = "CompressionNative_InflateEnd")]
    private static partial int InflateEnd(ZStream* stream);

    /// <summary>The runtime's own view of a zlib stream (pal_zlib.h).</summary>
    [StructLayout(LayoutKind.Sequential)]
    private struct ZStream
    {
        public byte* NextIn;
        public byte* NextOut;
        public nint Message;
        public nint State;
        public uint AvailableIn;
        public uint AvailableOut;
    }
}
