using System.Globalization;

namespace DuneCrate.Foundation.Naming;

/// <summary>
/// The name of a sequence or still: what stands before and after the frame number, and the digits of padding (0: a still,
/// whose name is <paramref name="Prefix"/> + <paramref name="Suffix"/>). A value; equal when all three are.
/// </summary>
/// <param name="Prefix">Path and text before the number, with <c>/</c>.</param>
/// <param name="Suffix">Text after the number, with the extension.</param>
/// <param name="Padding">Digits to which numbers are filled with zeros; 1 means unpadded.</param>
public readonly record struct FrameName(string Prefix, string Suffix, int Padding)
{
    /// <summary>The path of one frame. A negative number has its sign before the zeros: <c>-0005</c>.</summary>
    public string At(int frame) => Padding == 0 ? Prefix + Suffix : Prefix + Number(frame, Padding) + Suffix;

    /// <summary>The frame in a path of this name, with the digits it was written with; null when the path is another's.</summary>
    public (int Frame, int Digits)? Match(string path)
    {
        if (
            path.Length <= Prefix.Length + Suffix.Length
            || !path.StartsWith(Prefix, StringComparison.Ordinal)
            || !path.EndsWith(Suffix, StringComparison.Ordinal)
        )
        {
            return null;
        }

        ReadOnlySpan<char> number = path.AsSpan(Prefix.Length, path.Length - Prefix.Length - Suffix.Length);
        return IsNumber(number) && int.TryParse(number, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out int frame)
            ? (frame, number[0] == '-' ? number.Length - 1 : number.Length)
            : null;
    }

    /// <summary>The form for people, with one <c>#</c> per digit of padding: <c>sub/KP010_sub.####.exr</c>.</summary>
    public override string ToString() => Prefix + new string('#', Padding) + Suffix;

    /// <summary>
    /// A name from its form for people: the last <c>#</c> and those right before it stand for the number; without one it is a still's.
    /// </summary>
    public static FrameName Read(string text)
    {
        int end = text.LastIndexOf('#') + 1,
            first = text.AsSpan(0, end).TrimEnd('#').Length;
        return end == 0 ? new FrameName(text, "", 0) : new FrameName(text[..first], text[end..], end - first);
    }

    /// <summary>Digits that the widest frame of a range needs; the sign does not count.</summary>
    public static int DigitsFor(int frame) => Math.Abs((long)frame).ToString(CultureInfo.InvariantCulture).Length;

    /// <summary>A frame number filled with zeros to at least <paramref name="padding"/> digits.</summary>
    public static string Number(int frame, int padding) =>
        (frame < 0 ? "-" : "") + Math.Abs((long)frame).ToString(CultureInfo.InvariantCulture).PadLeft(padding, '0');

    internal static bool IsNumber(ReadOnlySpan<char> text)
    {
        ReadOnlySpan<char> digits = text is ['-', ..] ? text[1..] : text;
        return !digits.IsEmpty && digits.IndexOfAnyExceptInRange('0', '9') < 0;
    }
}
