using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Runtime.InteropServices;
using System.Text;

namespace DuneCrate.Exr;

/// <summary>
/// One attribute of an OpenEXR header: name, type name and the value's bytes as they stand in the file (little-endian).
/// Types that are not known are carried along untouched. Source: <em>OpenEXR File Layout</em>, predefined attribute types.
/// </summary>
public sealed record ExrAttribute(string Name, string Type, ReadOnlyMemory<byte> Value)
{
    /// <summary>A <c>string</c> attribute.</summary>
    public static ExrAttribute Text(string name, string value) => new(name, "string", Encoding.UTF8.GetBytes(value));

    /// <summary>An <c>int</c> attribute.</summary>
    public static ExrAttribute Int(string name, int value) => new(name, "int", Ints(value));

    /// <summary>A <c>float</c> attribute.</summary>
    public static ExrAttribute Float(string name, float value) => new(name, "float", Ints(BitConverter.SingleToInt32Bits(value)));

    /// <summary>A <c>rational</c> attribute, such as framesPerSecond.</summary>
    public static ExrAttribute Rational(string name, int numerator, int denominator) => new(name, "rational", Ints(numerator, denominator));

    /// <summary>A <c>box2i</c> attribute.</summary>
    public static ExrAttribute Box(string name, PixelBox box) => new(name, "box2i", Ints(box.MinX, box.MinY, box.MaxX, box.MaxY));

    /// <summary>A <c>v2f</c> attribute.</summary>
    public static ExrAttribute Vector(string name, float x, float y) =>
        new(name, "v2f", Ints(BitConverter.SingleToInt32Bits(x), BitConverter.SingleToInt32Bits(y)));

    /// <summary>A <c>chromaticities</c> attribute: x and y of red, green, blue and white.</summary>
    public static ExrAttribute Chromaticities(params ReadOnlySpan<float> values) =>
        new("chromaticities", "chromaticities", MemoryMarshal.AsBytes(values).ToArray());

    /// <summary>A one-byte enumeration such as <c>compression</c> or <c>lineOrder</c>.</summary>
    public static ExrAttribute Byte(string name, string type, byte value) => new(name, type, new[] { value });

    /// <summary>The text of a <c>string</c> attribute, or null for another type.</summary>
    public string? AsText() => Type == "string" ? Encoding.UTF8.GetString(Value.Span).TrimEnd('\0') : null;

    /// <summary>The number of an <c>int</c> attribute, or null.</summary>
    public int? AsInt() => Type == "int" && Value.Length == 4 ? BinaryPrimitives.ReadInt32LittleEndian(Value.Span) : null;

    /// <summary>The number of a <c>float</c> attribute, or null when it is none that <see cref="ExrNumbers"/> accepts.</summary>
    public float? AsFloat() => Type == "float" && ExrNumbers.Accepted(this) is [var number] ? (float)number : null;

    /// <summary>Numerator and denominator of a <c>rational</c> attribute, or null.</summary>
    public (int Numerator, uint Denominator)? AsRational() =>
        Type == "rational" && Value.Length == 8
            ? (BinaryPrimitives.ReadInt32LittleEndian(Value.Span), BinaryPrimitives.ReadUInt32LittleEndian(Value.Span[4..]))
            : null;

    /// <summary>The corners of a <c>box2i</c> attribute, or null.</summary>
    public PixelBox? AsBox()
    {
        ReadOnlySpan<byte> v = Value.Span;
        return Type != "box2i" || v.Length != 16
            ? null
            : new PixelBox(
                BinaryPrimitives.ReadInt32LittleEndian(v),
                BinaryPrimitives.ReadInt32LittleEndian(v[4..]),
                BinaryPrimitives.ReadInt32LittleEndian(v[8..]),
                BinaryPrimitives.ReadInt32LittleEndian(v[12..])
            );
    }

    /// <summary>The texts of a <c>stringvector</c> attribute, such as multiView, or null.</summary>
    public ImmutableArray<string>? AsTexts()
    {
        if (Type != "stringvector")
        {
            return null;
        }

        var texts = ImmutableArray.CreateBuilder<string>();
        ReadOnlySpan<byte> rest = Value.Span;
        while (rest.Length >= 4 && BinaryPrimitives.ReadInt32LittleEndian(rest) is >= 0 and var length && length <= rest.Length - 4)
        {
            texts.Add(Encoding.UTF8.GetString(rest.Slice(4, length)));
            rest = rest[(4 + length)..];
        }

        return rest.IsEmpty ? texts.ToImmutable() : null;
    }

    /// <summary>The eight numbers of a <c>chromaticities</c> attribute, x and y of red, green, blue and white; or null.</summary>
    public ImmutableArray<float>? AsChromaticities() =>
        Type == "chromaticities" && ExrNumbers.Accepted(this) is { } numbers ? [.. numbers.Select(n => (float)n)] : null;

    private static byte[] Ints(params ReadOnlySpan<int> values)
    {
        byte[] bytes = new byte[values.Length * 4];
        for (int i = 0; i < values.Length; i++)
        {
            BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(i * 4), values[i]);
        }

        return bytes;
    }
}
