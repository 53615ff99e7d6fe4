using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A header that says two things: the type attribute of a file of one part against the flags of its version field. The reference library
/// goes by the flags (ImfMultiPartInputFile.cpp); so does this product, and other readers may not.
/// </summary>
/// <remarks>Source: OpenEXR file layout, Version field.</remarks>
public sealed class FormatContradiction : FileRule
{
    public override string Id => "format.contradiction";

    public override string Title => "The header contradicts itself";

    public override Severity Severity => Severity.Warning;

    public override string Question => "The header says two things, such as a part's type against the version flags";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from odd in Group(output.Readable, f => f.Facts.Parts.Select(p => p.Contradiction).FirstOrDefault(c => c is not null))
        select About(
            output,
            odd.Frames,
            "one type",
            odd.Verdict,
            $"The header of {At(odd.Frames)} contradicts itself: {odd.Verdict}. It was read by the flags; other programs may not open it.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender
        );
}
