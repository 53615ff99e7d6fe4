using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A name that does not fit any template but is near an output's: at most 3 edits and a fifth of its letters away
/// (Damerau-Levenshtein, optimal string alignment; the number left out).
/// </summary>
/// <remarks>Source: edit distance after Levenshtein (1966), with neighbouring letters that trade places (Damerau, 1964).</remarks>
public sealed class NamesTemplate : FileRule
{
    public override string Id => "names.template";

    public override string Title => "Name is slightly off";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The name does not fit the template, but is near an output's";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from stray in context.Strays
        where stray.Kind == StrayKind.Misnamed
        let first = stray.Sequence.Files[0]
        let right = stray.Nearest!.Name.At(first.Frame)
        select new Finding
        {
            Rule = Id,
            Severity = Severity,
            Output = stray.Nearest!.Key,
            Layer = stray.Nearest!.Layer.Name,
            Frames = stray.Sequence.Frames,
            Expected = right,
            Found = first.Path,
            Message = $"{first.Path} should be {right}.",
            Remedy = $"Rename {stray.Sequence.Name} to {stray.Nearest!.Key}.",
            RemedyKind = RemedyKind.Rename,
        };
}
