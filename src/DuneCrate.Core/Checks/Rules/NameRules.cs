using DuneCrate.Core.Frames;
using DuneCrate.Core.Naming;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// A name that does not fit any template but is near an output's: at most 3 edits and a fifth of its letters away
/// (Damerau-Levenshtein, optimal string alignment; the number left out).
/// </summary>
public sealed class NamesTemplate : Rule
{
    public override string Id => "names.template";

    public override string Title => "Name is not quite right";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The name does not fit the template, but is near an output's";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from stray in context.Strays
        where stray.IsMisnamed && !stray.HasNumberAfterExtension
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

/// <summary>Numbers written with other digits than planned, or than the rest of the sequence.</summary>
public sealed class NamesPadding : Rule
{
    public override string Id => "names.padding";

    public override string Title => "Digits differ";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Digits differ from the plan, or within a sequence";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Name.Padding > 0
        from odd in Group(lane.Files, f => f.Digits == Math.Max(lane.Name.Padding, FrameName.DigitsFor(f.Frame)) ? null : $"{f.Digits} digits")
        select About(lane, odd.Frames, $"{lane.Name.Padding} digits", odd.Found,
            $"{odd.First.Facts.Path} is written with {odd.Found} where {lane.Name.Padding} are {(lane.Planned is null ? "usual in it" : "planned")}.",
            $"Rename to {lane.Name.At(odd.First.Frame)}{(odd.Frames.IsStill ? "" : " and so on")}; the crate does it in any case.", RemedyKind.Rename);
}

/// <summary>The number stands after the extension: <c>name.exr.0001</c>.</summary>
public sealed class NamesOrder : Rule
{
    public override string Id => "names.order";

    public override string Title => "Number after the extension";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The number stands after the extension";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        context.Plan is null
            ? from lane in context.Lanes
              where lane.Name is { Padding: > 0, Suffix: "" } && lane.Name.Prefix.EndsWith('.')
              select About(lane, lane.Frames, "name.number.extension", lane.Files[0].Facts.Path, Message(lane.Files[0].Facts.Path), "Rename so that the number stands before the extension.", RemedyKind.Rename)
            : from stray in context.Strays
              where stray.HasNumberAfterExtension
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

    private static string Message(string path) => $"In {path} the frame number stands after the extension; most readers will not take it for a picture.";
}
