using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>The number stands after the extension: <c>name.exr.0001</c>.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class NamesOrder : FileRule
{
    public override string Id => "names.order";

    public override string Title => "Number after the extension";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The number stands after the extension";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        !context.IsPlanned
            ? from output in context.Outputs
            where output.Name is { Padding: > 0, Suffix: "" } && output.Name.Prefix.EndsWith('.')
            select About(
                output,
                output.Frames,
                "name.number.extension",
                output.Files[0].Facts.Path,
                Message(output.Files[0].Facts.Path),
                "Rename so that the number stands before the extension.",
                RemedyKind.Rename
            )
            : from stray in context.Strays
            where stray.Kind == StrayKind.Order
            let first = stray.Sequence.Files[0]
            select new Finding
            {
                Rule = Id,
                Severity = Severity,
                Output = stray.Nearest!.Key,
                Layer = stray.Nearest!.Layer.Name,
                Frames = stray.Sequence.Frames,
                Expected = stray.Nearest!.Name.At(first.Frame),
                Found = first.Path,
                Message = Message(first.Path),
                Remedy = $"Rename {stray.Sequence.Name} to {stray.Nearest!.Key}.",
                RemedyKind = RemedyKind.Rename,
            };

    private static string Message(string path) =>
        $"In {path} the frame number stands after the extension; most readers will not take it for a picture.";
}
