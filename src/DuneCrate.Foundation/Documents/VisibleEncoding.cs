using System.Globalization;
using System.Text.Encodings.Web;

namespace DuneCrate.Foundation.Documents;

/// <summary>
/// Encoders of pages and of JSON that pages read which show control and direction characters as <c>\u001b</c>, where the framework's own
/// would hand them to the page. Everything else is theirs.
/// </summary>
public static class VisibleEncoding
{
    /// <summary>Of markup.</summary>
    public static readonly HtmlEncoder Html = new OfHtml();

    /// <summary>Of JSON in pages and answers to pages; nothing in it can end an element.</summary>
    public static readonly JavaScriptEncoder Script = new OfScript();

    private static unsafe int Find(TextEncoder inner, char* text, int length)
    {
        int own = inner.FindFirstCharacterToEncode(text, length);
        for (int i = 0; i < (own < 0 ? length : own); i++)
        {
            if (VisibleText.IsHarmful(text[i], keepsLines: true))
            {
                return i;
            }
        }

        return own;
    }

    private static unsafe bool TryWrite(TextEncoder inner, string mark, int scalar, char* buffer, int length, out int written)
    {
        if (!VisibleText.IsHarmful(scalar, keepsLines: true))
        {
            return inner.TryEncodeUnicodeScalar(scalar, buffer, length, out written);
        }

        written = 0;
        return string.Create(CultureInfo.InvariantCulture, $"{mark}u{scalar:x4}").TryCopyTo(new Span<char>(buffer, length))
            && (written = mark.Length + "uffff".Length) > 0;
    }

    private sealed class OfHtml : HtmlEncoder
    {
        public override int MaxOutputCharactersPerInputCharacter => Default.MaxOutputCharactersPerInputCharacter;

        public override unsafe int FindFirstCharacterToEncode(char* text, int textLength) => Find(Default, text, textLength);

        public override unsafe bool TryEncodeUnicodeScalar(
            int unicodeScalar,
            char* buffer,
            int bufferLength,
            out int numberOfCharactersWritten
        ) => TryWrite(Default, "\\", unicodeScalar, buffer, bufferLength, out numberOfCharactersWritten);

        public override bool WillEncode(int unicodeScalar) =>
            VisibleText.IsHarmful(unicodeScalar, keepsLines: true) || Default.WillEncode(unicodeScalar);
    }

    private sealed class OfScript : JavaScriptEncoder
    {
        public override int MaxOutputCharactersPerInputCharacter => Default.MaxOutputCharactersPerInputCharacter;

        public override unsafe int FindFirstCharacterToEncode(char* text, int textLength) => Find(Default, text, textLength);

        public override unsafe bool TryEncodeUnicodeScalar(
            int unicodeScalar,
            char* buffer,
            int bufferLength,
            out int numberOfCharactersWritten
        ) => TryWrite(Default, "\\\\", unicodeScalar, buffer, bufferLength, out numberOfCharactersWritten);

        public override bool WillEncode(int unicodeScalar) =>
            VisibleText.IsHarmful(unicodeScalar, keepsLines: true) || Default.WillEncode(unicodeScalar);
    }
}
