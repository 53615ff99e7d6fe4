using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace DuneCrate.Web.Access;

/// <summary>Leaves out what its reader may not do: <c>&lt;form needs="Wrangle"&gt;</c>.</summary>
[HtmlTargetElement(Attributes = Attribute)]
public sealed class NeedsTagHelper : TagHelper
{
    private const string Attribute = "needs";

    /// <summary>What the element's deed asks for.</summary>
    [HtmlAttributeName(Attribute)]
    public Permission Needs { get; set; }

    /// <summary>Code of the show that it is about; that of the address when it is not said.</summary>
    [HtmlAttributeName("needs-in")]
    public string? Show { get; set; }

    /// <summary>The page.</summary>
    [ViewContext, HtmlAttributeNotBound]
    public ViewContext Page { get; set; } = null!;

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        Visitor visitor = Page.HttpContext.Visitor();

        // Who gives a password again on the way may do what asks for it.
        Permission asked = Needs == Permission.MaintainConfirmed ? Permission.Maintain : Needs;
        if (!visitor.May(asked, Show ?? Page.HttpContext.GetRouteValue("show") as string))
        {
            output.SuppressOutput();
        }
    }
}
