using System.Globalization;
using System.Net;
using System.Runtime.CompilerServices;
using System.Text;

namespace DuneCrate.Foundation.Documents;

/// <summary>
/// Writes a page for people. Its literal text is markup; every value put into it is escaped unless it is <see cref="Markup"/>. Source:
/// OWASP Application Security Verification Standard
/// 4.0.3, V5.3.3 (output encoding by default).
/// </summary>
public sealed class HtmlDocument
{
    private readonly StringBuilder _text = new();

    /// <summary>Adds a piece: <c>page.Add($"&lt;td&gt;{finding.Message}&lt;/td&gt;")</c>.</summary>
    public HtmlDocument Add([InterpolatedStringHandlerArgument("")] ref Piece piece)
    {
        _ = piece;
        return this;
    }

    /// <summary>Adds markup that holds no value.</summary>
    public HtmlDocument Add(Markup markup)
    {
        _text.Append(markup.Text);
        return this;
    }

    /// <summary>The page so far.</summary>
    public override string ToString() => _text.ToString();

    /// <summary>Takes the parts of an interpolated text.</summary>
    [InterpolatedStringHandler]
    public readonly ref struct Piece
    {
        private readonly StringBuilder _text;

        /// <summary>Begins a piece of a page.</summary>
        public Piece(int literalLength, int formattedCount, HtmlDocument page)
        {
            _ = literalLength + formattedCount;
            _text = page._text;
        }

        /// <summary>Takes markup.</summary>
        public void AppendLiteral(string markup) => _text.Append(markup);

        /// <summary>Takes a value and escapes it.</summary>
        public void AppendFormatted<T>(T value, string? format = null)
        {
            if (value is Markup markup)
            {
                _text.Append(markup.Text);
                return;
            }

            string? words = value is IFormattable formattable
                ? formattable.ToString(format, CultureInfo.InvariantCulture)
                : value?.ToString();
            _text.Append(words is null ? null : WebUtility.HtmlEncode(VisibleText.Clean(words, keepsLines: true)));
        }
    }
}
