using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A Cryptomatte that is not stored as 32-bit float, is packed with a lossy compression, or lacks its metadata (Cryptomatte specification
/// 1.2: name, hash, conversion and manifest).
/// </summary>
/// <remarks>Source: Cryptomatte specification 1.2.0.</remarks>
public sealed class CryptoStorage : FileRule
{
    public override string Id => "crypto.storage";

    public override string Title => "Cryptomatte cannot be read";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Cryptomatte not float, lossy, or without metadata";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        from pass in output.Passes
        where pass.Definition?.Has(PassMeasures.Cryptomatte) == true
        from odd in Group(output.Readable, f => Judge(pass, f))
        select About(
            output,
            odd.Frames,
            "32-bit float, lossless, with name, hash, conversion and manifest",
            odd.Verdict.ToString(),
            $"{pass.Name} is {odd.Verdict} in {At(odd.Frames)}: no program will read it.",
            Rerender(output, odd.Frames),
            RemedyKind.Rerender,
            pass.Name
        );

    private static Fault? Judge(CheckedPass pass, CheckedFile file)
    {
        ChannelFacts[] ranks = [.. pass.Channels.Select(c => file.Find(c.Name)).OfType<ChannelFacts>()];
        if (ranks.Length == 0)
        {
            return null;
        }

        PartFacts home = file.Facts.Parts.First(p => p.Channels.Any(c => c.Name == ranks[0].Name));
        return ranks.FirstOrDefault(c => c.Type != ChannelType.Float) is { } other ? new Fault(other.Type, null)
            : ExrCompression.Find(home.Compression)?.IsLossy == true ? new Fault(null, home.Compression)
            : !(home.Cryptomattes ?? []).Any(m =>
                ranks[0].Name.StartsWith(m.Name, StringComparison.Ordinal) && m.Hash is not null && m.Conversion is not null
            )
                ? new Fault(null, null)
            : null;
    }

    /// <summary>What is wrong with how a Cryptomatte is stored: its type, else its compression, else its metadata.</summary>
    private readonly record struct Fault(ChannelType? Type, string? Compression)
    {
        public override string ToString() =>
            Type is { } type ? $"stored as {type.Name()}"
            : Compression is not null ? $"packed with {Compression}, which is lossy"
            : "without its metadata";
    }
}
