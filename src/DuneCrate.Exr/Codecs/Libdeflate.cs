using System.Runtime.InteropServices;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// libdeflate where the machine has it (Debian's libdeflate0, which its image libraries bring): the platform's stream alone makes a whole
/// check take 9 % longer (docs/decisions/0001-our-own-openexr.md). Tried at start; <see cref="Switch"/> turns it off. Whatever it does
/// not take is left to the stream, which says what is wrong with it. From memory: the two may differ in whether they take tables of code
/// words that leave room for others, which no writer makes. Source: RFC 1950; libdeflate.h.
/// </summary>
internal sealed unsafe partial class Libdeflate
{
    private const string Library = "libdeflate.so.0";

    /// <summary>The switch of the application (<see cref="AppContext"/>) that turns the library off where it is false.</summary>
    public const string Switch = "DuneCrate.Exr.Libdeflate";

    [ThreadStatic]
    private static Libdeflate? _own;

    private readonly nint _decompressor = Allocate();

    private Libdeflate() { }

    /// <summary>Frees what a thread that has ended used.</summary>
    ~Libdeflate()
    {
        if (_decompressor != 0)
        {
            Free(_decompressor);
        }
    }

    /// <summary>Whether the library is wanted, there, and does what it should; tried once.</summary>
    public static bool IsThere { get; } = (!AppContext.TryGetSwitch(Switch, out bool isWanted) || isWanted) && Probe();

    /// <summary>The inflater of this thread, whose memory is used again.</summary>
    public static Libdeflate Own => _own ??= new Libdeflate();

    /// <summary>Inflates a whole stream.</summary>
    /// <returns>Bytes made; −1 when the bytes are no whole zlib stream, or make more than fit.</returns>
    public int Into(ReadOnlySpan<byte> packed, Span<byte> to)
    {
        // Where there is no byte a pointer would be none, which is not what the library expects.
        if (_decompressor == 0 || packed.IsEmpty || to.IsEmpty)
        {
            return -1;
        }

        fixed (byte* from = packed)
        fixed (byte* into = to)
        {
            nuint made;
            int result = Decompress(_decompressor, from, (nuint)packed.Length, into, (nuint)to.Length, null, &made);
            GC.KeepAlive(this);
            return result == 0 ? (int)made : -1;
        }
    }

    /// <summary>Tries it on what <see cref="Inflate.Trial"/> holds.</summary>
    private static bool Probe()
    {
        try
        {
            ReadOnlySpan<byte> packed = Inflate.Trial;
            Span<byte> to = stackalloc byte[4];
            return Own.Into(packed, to) == 3
                && to[..3].SequenceEqual("abc"u8)
                && Own.Into(packed, to[..2]) == -1
                && Own.Into(packed[..9], to) == -1
                && Own.Into("sand"u8, to) == -1;
        }
        catch (Exception e) when (e is DllNotFoundException or EntryPointNotFoundException or BadImageFormatException)
        {
            return false;
        }
    }

    [LibraryImport(Library, EntryPoint = "libdeflate_alloc_decompressor")]
    private static partial nint Allocate();

    [LibraryImport(Library, EntryPoint = "libdeflate_free_decompressor")]
    private static partial void Free(nint decompressor);

    [LibraryImport(Library, EntryPoint = "libdeflate_zlib_decompress_ex")]
    private static partial int Decompress(nint decompressor, byte* from, nuint bytes, byte* to, nuint room, nuint* read, nuint* made);
}
