using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Exr;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>Another compression than planned; a blocker when a lossy one meets data or identity passes.</summary>
/// <remarks>Source: OpenEXR, Data compression: which methods lose.</remarks>
public sealed class FormatCompression : FileRule, IReplans
{
    public override string Id => "format.compression";

    public override string Title => "Another compression";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Compression differs from the plan; lossy on data or identity passes";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        let exact = output.Passes.Any(p => p.Definition?.IsExact == true)
        let planned = output.Planned?.Output.Compression
        from odd in Group(
            output.Readable,
            f =>
                f.Facts.Parts.Select(p => p.Compression)
                    .FirstOrDefault(c => Differs(f.Facts.Format, planned, c) || (exact && IsLossy(f.Facts.Format, c)))
        )
        let lossy = exact && IsLossy(odd.First.Facts.Format, odd.Verdict)
        select About(
            output,
            odd.Frames,
            planned ?? "a lossless compression",
            odd.Verdict,
            lossy
                ? $"{odd.Verdict} is lossy, and {output.Passes.First(p => p.Definition?.IsExact == true).Name} must keep exact values."
                : $"{Subject(odd.Frames, "is", "are")} packed with {odd.Verdict}; {planned} is planned.",
            lossy ? Rerender(output, odd.Frames) : "Change the plan if it does not matter.",
            lossy ? RemedyKind.Rerender : RemedyKind.Replan
        ) with
        {
            Severity = lossy ? Severity.Blocker : Severity,
        };

    /// <summary>What TIFF calls its ways of packing (TIFF 6.0, sections 9 and 10; Adobe's supplement for deflate, which is zip).</summary>
    private static readonly Dictionary<string, string> InTiff = new()
    {
        ["none"] = "none",
        ["zip"] = "deflate",
        ["zips"] = "deflate",
        ["deflate"] = "deflate",
        ["lzw"] = "lzw",
        ["packbits"] = "packbits",
        ["rle"] = "packbits",
    };

    /// <summary>Whether a file could have been packed as planned and was not. Other formats leave no choice.</summary>
    private static bool Differs(string format, string? planned, string found) =>
        planned is not null
        && format switch
        {
            "exr" => found != planned,
            "tiff" => InTiff.TryGetValue(planned, out string? name) && name != found,
            _ => false,
        };

    private static bool IsLossy(string format, string compression) =>
        format == "exr" ? ExrCompression.Find(compression)?.IsLossy == true : compression == "jpeg";

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) =>
        at.FirstPart?.Compression is { } packing
            ? at.WithOutput(o => o with { Compression = packing }, $"{at.Output.Key} is compressed with {packing}")
            : null;
}
