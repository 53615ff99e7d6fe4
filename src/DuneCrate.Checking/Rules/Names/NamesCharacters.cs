using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Characters outside the portable file name set: A–Z a–z 0–9 . _ - (IEEE Std 1003.1, 3.282). Spaces and letters with accents
/// break scripts and other file systems.
/// </summary>
/// <remarks>Source: POSIX.1-2017, 3.282, Portable filename character set.</remarks>
public sealed class NamesCharacters : FileRule
{
    public override string Id => "names.characters";

    public override string Title => "Unsafe characters in the name";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Spaces, control characters, letters outside the portable set";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        context
            .Outputs.Where(l => !l.Files.IsEmpty)
            .Select(l => (Name: l.Key, l.Layer, l.Frames, First: l.Files[0].Facts.Path))
            .Concat(
                context.Strays.Select(s =>
                    (
                        Name: s.Sequence.Name.ToString(),
                        Layer: s.Nearest?.Layer.Name ?? "",
                        s.Sequence.Frames,
                        First: s.Sequence.Files[0].Path
                    )
                )
            )
            .Select(n => (n.Name, n.Layer, n.Frames, n.First, Odd: new string([.. n.First.Where(c => !IsPortable(c)).Distinct()])))
            .Where(n => n.Odd.Length > 0)
            .Select(n => new Finding
            {
                Rule = Id,
                Severity = Severity,
                Output = n.Name,
                Layer = n.Layer.Length > 0 ? n.Layer : null,
                Frames = n.Frames,
                Expected = "A–Z a–z 0–9 . _ -",
                Found = string.Join(' ', n.Odd.Select(Shown)),
                Message =
                    $"{n.First} has {string.Join(' ', n.Odd.Select(Shown))} in its name, which scripts and other file systems "
                    + $"stumble over.",
                Remedy = "Name it without; the crate's own names are clean in any case.",
            });

    private static bool IsPortable(char c) => char.IsAsciiLetterOrDigit(c) || c is '.' or '_' or '-' or '/';

    private static string Shown(char c) =>
        c == ' ' ? "a space"
        : char.IsControl(c) ? $"the control character {(int)c}"
        : c.ToString();
}
