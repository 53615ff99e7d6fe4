using System.Buffers.Binary;
using System.Globalization;

namespace DuneCrate.Exr;

/// <summary>
/// The one reader of fractional numbers in headers. It accepts what is finite, and of a pixel aspect ratio what the reference library
/// accepts; everything else is no number that a document can write (RFC 8259, 6) or a program can use, and makes the file a damaged one.
/// Source: <em>OpenEXR File Layout</em>, predefined attribute types; bounds of the aspect: OpenEXR's <c>Header::sanityCheck</c>.
/// </summary>
public static class ExrNumbers
{
    /// <summary>Name of the attribute with a pixel's width over its height.</summary>
    public const string AspectName = "pixelAspectRatio";

    /// <summary>The fractional numbers of an attribute, in file order; null for a type without such, or of another length than its
    /// type has.</summary>
    public static double[]? Of(ExrAttribute attribute)
    {
        ReadOnlySpan<byte> value = attribute.Value.Span;
        (int size, int count) = attribute.Type switch
        {
            "float" => (4, 1),
            "double" => (8, 1),
            "v2f" => (4, 2),
            "v3f" => (4, 3),
            "box2f" => (4, 4),
            "m33f" => (4, 9),
            "m44f" => (4, 16),
            "chromaticities" => (4, 8),
            "floatvector" => (4, value.Length / 4),
            "v2d" => (8, 2),
            "v3d" => (8, 3),
            "m33d" => (8, 9),
            "m44d" => (8, 16),
            _ => (0, 0),
        };
        if (size == 0 || value.Length != size * count)
        {
            return null;
        }

        double[] numbers = new double[count];
        for (int i = 0; i < count; i++)
        {
            ReadOnlySpan<byte> number = value.Slice(i * size, size);
            numbers[i] = size == 4 ? BinaryPrimitives.ReadSingleLittleEndian(number) : BinaryPrimitives.ReadDoubleLittleEndian(number);
        }

        return numbers;
    }

    /// <summary>The numbers of an attribute when all of them can be used, or null.</summary>
    public static double[]? Accepted(ExrAttribute attribute) => Problem(attribute) is null ? Of(attribute) : null;

    /// <summary>What is wrong with the numbers of an attribute, as the end of a sentence about its file; null when nothing is.</summary>
    public static string? Problem(ExrAttribute attribute)
    {
        if (attribute.Type == "rational")
        {
            return attribute.Value.Length == 8 && BinaryPrimitives.ReadInt32LittleEndian(attribute.Value.Span[4..]) == 0
                ? $"the header field {Name(attribute)} divides by 0"
                : null;
        }

        if (Of(attribute) is not { } numbers)
        {
            return null;
        }

        int at = Array.FindIndex(numbers, n => !double.IsFinite(n));
        string which = numbers.Length > 1 ? $" as number {at + 1} of {numbers.Length}" : "";
        return at >= 0 ? $"the header field {Name(attribute)} holds {Word(numbers[at])}{which}, which is no number"
            : attribute.Name == AspectName && !PixelAspect.Is(numbers[0])
                ? string.Create(CultureInfo.InvariantCulture, $"the header field {Name(attribute)} is {numbers[0]:g6}, which no pixel has")
            : null;
    }

    private static string Name(ExrAttribute attribute) => $"'{ExrHeaderParser.Printable(attribute.Name)}'";

    private static string Word(double number) =>
        double.IsNaN(number) ? "NaN"
        : number > 0 ? "infinity"
        : "minus infinity";
}
