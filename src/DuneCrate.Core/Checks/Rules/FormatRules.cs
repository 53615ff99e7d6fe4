using DuneCrate.Core.Frames;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>The display window's size differs from the plan's.</summary>
public sealed class FormatResolution : Rule
{
    public override string Id => "format.resolution";

    public override string Title => "Wrong size";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The display window differs from the plan";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null
        let planned = $"{lane.Planned!.Shot.Width} × {lane.Planned!.Shot.Height}"
        from odd in Group(lane.Readable, f => f.Facts.Parts.Select(p => $"{p.DisplayWindow.Width} × {p.DisplayWindow.Height}").FirstOrDefault(size => size != planned))
        select About(lane, odd.Frames, $"{planned} pixels", $"{odd.Found} pixels",
            $"{(odd.Frames.IsStill ? "Frame" : "Frames")} {odd.Frames} {Are(odd.Frames)} {odd.Found} pixels; {planned} is planned.", Rerender(lane, odd.Frames), RemedyKind.Rerender);
}

/// <summary>The header carries a frame rate and it is another one. Rates are compared as fractions.</summary>
public sealed class FormatRate : Rule
{
    public override string Id => "format.rate";

    public override string Title => "Another frame rate";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A frame rate in the header that is not the plan's";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null
        let planned = lane.Planned!.Shot.FrameRate
        from odd in Group(lane.Readable, f => f.Facts.Parts.Select(p => p.FrameRate).FirstOrDefault(r => r is { } rate && rate != planned)?.ToDisplay())
        select About(lane, odd.Frames, planned.ToDisplay(), odd.Found,
            $"{(odd.Frames.IsStill ? "Frame" : "Frames")} {odd.Frames} {(odd.Frames.IsStill ? "says" : "say")} {odd.Found} in the header; the shot is {planned.ToDisplay()}.",
            "Find out which one is right: with a wrong rate everything drifts against sound and edit.", RemedyKind.Look);
}

/// <summary>Another compression than planned; a blocker when a lossy one meets data or identity passes.</summary>
public sealed class FormatCompression : Rule
{
    public override string Id => "format.compression";

    public override string Title => "Another compression";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Compression differs from the plan; lossy on data or identity passes";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        let exact = lane.Passes.Any(p => p.Definition?.Kind is PassKind.Data or PassKind.Identity)
        let planned = lane.Planned?.Output.Compression
        from odd in Group(lane.Readable, f => f.Facts.Parts.Select(p => p.Compression).FirstOrDefault(c => (planned is not null && c != planned) || (exact && ExrCompression.Find(c)?.IsLossy == true)))
        let lossy = exact && ExrCompression.Find(odd.Found)?.IsLossy == true
        select About(lane, odd.Frames, planned ?? "a lossless compression", odd.Found,
            lossy ? $"{odd.Found} is lossy, and {lane.Passes.First(p => p.Definition?.Kind is PassKind.Data or PassKind.Identity).Name} must keep exact values."
                : $"{(odd.Frames.IsStill ? "Frame" : "Frames")} {odd.Frames} {Are(odd.Frames)} packed with {odd.Found}; {planned} is planned.",
            lossy ? Rerender(lane, odd.Frames) : "Change the plan if it does not matter.", lossy ? RemedyKind.Rerender : RemedyKind.Replan) with
        { Severity = lossy ? Severity.Blocker : Severity };
}

/// <summary>The header names a camera and it is not the plan's.</summary>
public sealed class FormatCamera : Rule
{
    public override string Id => "format.camera";

    public override string Title => "Wrong camera";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "A camera name in the header that is not the plan's";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is { Shot.Camera.Length: > 0 }
        let planned = lane.Planned!.Shot.Camera
        from odd in Group(lane.Readable, f => Other(f.Facts, planned))
        select About(lane, odd.Frames, planned, odd.Found,
            $"{(odd.Frames.IsStill ? "Frame" : "Frames")} {odd.Frames} {(odd.Frames.IsStill ? "was" : "were")} rendered through {odd.Found}; the shot's camera is {planned}.",
            Rerender(lane, odd.Frames), RemedyKind.Rerender);

    private static string? Other(FileFacts facts, string planned) => facts.Parts.Select(p => p.Camera).FirstOrDefault(c => c is { Length: > 0 } && c != planned);
}
