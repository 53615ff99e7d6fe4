using System.Globalization;
using DuneCrate.Foundation.Naming;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace DuneCrate.Web.Forms;

/// <summary>
/// Gives every field for text the length that its text may have, so that the browser takes no more and the page says so there; what is sent
/// all the same is refused by the same limits
/// in the core. A field that says <c>maxlength</c> itself keeps it.
/// </summary>
/// <remarks>Source: OWASP Application Security Verification Standard 4.0.3, V5.1.4 (structured data is validated by length, too).</remarks>
[HtmlTargetElement("input", TagStructure = TagStructure.WithoutEndTag)]
[HtmlTargetElement("textarea")]
public sealed class TextLimit : TagHelper
{
    /// <summary>Characters of a list of frames, and of every text that has no limit of its own.</summary>
    public const int Usual = 2_000;

    /// <summary>Characters of a field of many lines.</summary>
    public const int Lines = 100_000;

    private const int Number = 40;

    private static readonly Dictionary<string, int> ByName = new(StringComparer.OrdinalIgnoreCase)
    {
        ["code"] = TextLimits.NameLength,
        ["version"] = TextLimits.NameLength,
        ["group"] = TextLimits.NameLength,
        ["template"] = TextLimits.TemplateLength,
        ["name"] = TextLimits.WordsLength,
        ["camera"] = TextLimits.WordsLength,
        ["colourSpace"] = TextLimits.WordsLength,
        ["by"] = TextLimits.WordsLength,
        ["to"] = TextLimits.WordsLength,
        ["what"] = TextLimits.WordsLength,
        ["value"] = TextLimits.WordsLength,
        ["why"] = TextLimits.NoteLength,
        ["note"] = TextLimits.NoteLength,
        ["reason"] = TextLimits.NoteLength,
        ["remark"] = TextLimits.NoteLength,
        ["folder"] = TextLimits.NoteLength,
        ["rate"] = Number,
        ["width"] = Number,
        ["height"] = Number,
        ["overscan"] = Number,
        ["aspect"] = Number,
        ["padding"] = Number,
        ["machines"] = Number,
        ["near"] = Number,
        ["far"] = Number,
        ["edge"] = Number,
    };

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        bool isLines = output.TagName == "textarea",
            isText = isLines || context.AllAttributes["type"]?.Value.ToString() is null or "text" or "search";
        if (isText && !context.AllAttributes.ContainsName("maxlength"))
        {
            string name = context.AllAttributes["name"]?.Value.ToString() ?? "";
            output.Attributes.SetAttribute(
                "maxlength",
                (isLines ? Lines : ByName.GetValueOrDefault(name, Usual)).ToString(CultureInfo.InvariantCulture)
            );
        }
    }
}
