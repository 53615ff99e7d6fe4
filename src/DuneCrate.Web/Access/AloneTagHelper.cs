using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace DuneCrate.Web.Access;

/// <summary>Leaves out what is only asked where nobody signs in, such as the field for a name: <c>&lt;input alone&gt;</c>.</summary>
[HtmlTargetElement(Attributes = Attribute)]
public sealed class AloneTagHelper : TagHelper
{
    private const string Attribute = "alone";

    /// <summary>The page.</summary>
    [ViewContext, HtmlAttributeNotBound]
    public ViewContext Page { get; set; } = null!;

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.Attributes.RemoveAll(Attribute);
        if (!Page.HttpContext.Visitor().IsAlone)
        {
            output.SuppressOutput();
        }
    }
}
