using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A manifest that is no JSON of names and ids, or names whose hash (MurmurHash3, x86, 32 bit, taken as float) is not the id that stands
/// beside them.
/// </summary>
/// <remarks>Source: Cryptomatte specification 1.2.0; MurmurHash3, x86, 32 bit.</remarks>
public sealed class CryptoManifest : FileRule
{
    public override string Id => "crypto.manifest";

    public override string Title => "Manifest and ids disagree";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Manifest that does not parse; names that do not hash to their ids";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Has(PassMeasures.Cryptomatte) == true
        from odd in Group(
            output.Readable,
            f =>
                f.Facts.Parts.SelectMany(p => p.Cryptomattes ?? [])
                    .Where(m => pass.Channels.Any(c => c.Name.StartsWith(m.Name, StringComparison.Ordinal)))
                    .Select(Verdict)
                    .FirstOrDefault(v => v is not null)
        )
        select About(
            output,
            odd.Frames,
            "names beside the ids they hash to",
            odd.Verdict,
            $"The manifest of {pass.Name} {odd.Verdict} in {At(odd.Frames)}: names will select the wrong things.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender,
            pass.Name
        );

    private static string? Verdict(CryptomatteHeader matte) =>
        matte.ManifestProblem ?? (matte.WrongNames.IsEmpty ? null : $"has {string.Join(", ", matte.WrongNames)} beside the wrong id");
}
