using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Planning;

/// <summary>What must hold for a plan to be usable at all. Each problem names its field.</summary>
public static class PlanValidation
{
    /// <summary>Pixels that a side may have.</summary>
    public const int MaxSide = 65536;

    /// <summary>Most frames of a shot: eleven hours at 24 a second.</summary>
    public const int MaxFrames = 1_000_000;

    /// <summary>Most pixels of overscan on one side.</summary>
    public const int MaxOverscan = 8192;

    /// <summary>What to say of overscan that is none.</summary>
    internal static readonly string OverscanBounds = $"The overscan must be 0 to {MaxOverscan} pixels on every side.";

    /// <summary>Digits that padding may have.</summary>
    public const int MaxPadding = 12;

    /// <summary>Every problem of a plan, in the document's order; empty for a usable plan.</summary>
    public static ImmutableArray<PlanProblem> Check(Plan plan, PassCatalogue? catalogue = null)
    {
        catalogue ??= plan.Catalogue;
        var problems = ImmutableArray.CreateBuilder<PlanProblem>();
        void Say(string field, string? message)
        {
            if (message is not null)
            {
                problems.Add(new PlanProblem(field, message));
            }
        }

        Say("show.code", NameProblem(plan.Show.Code));
        Say("shot.code", NameProblem(plan.Shot.Code));
        Say("shot.frames", FramesProblem(plan.Shot.Frames));
        Say("shot.frameRate", plan.Shot.FrameRate.Denominator == 0 ? "The frame rate is missing; write 24 or 24000/1001." : null);
        Say("shot.width", plan.Shot.Width is < 1 or > MaxSide ? $"The width must be 1 to {MaxSide} pixels." : null);
        Say("shot.height", plan.Shot.Height is < 1 or > MaxSide ? $"The height must be 1 to {MaxSide} pixels." : null);
        Say("shot.overscan", plan.Shot.Overscan is < 0 or > MaxOverscan ? OverscanBounds : null);
        Say("shot.pixelAspectRatio", plan.Shot.PixelAspectRatio is >= 0.01 and <= 100 ? null : "The pixel aspect ratio must be 0.01 to 100.");
        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        for (int l = 0; l < plan.Layers.Length; l++)
        {
            LayerPlan layer = plan.Layers[l];
            string at = $"layers[{l}]";
            Say($"{at}.name", NameProblem(layer.Name) ?? (names.Add(layer.Name) ? null : $"Two layers are called {layer.Name}; file systems may not tell them apart."));
            Say($"{at}.frames", RangeProblem(layer.Frames, plan.Shot.Frames, "shot"));
            var planned = layer.AllPasses.Select(p => p.Pass).ToHashSet();
            foreach (string term in layer.Rebuild.SelectMany(t => t.Factors).Where(f => !planned.Contains(f)))
            {
                Say($"{at}.rebuild", $"The rebuild adds {term}, which the layer does not put out; plan it or take it from the sum.");
            }

            for (int o = 0; o < layer.Outputs.Length; o++)
            {
                CheckOutput(plan, layer, layer.Outputs[o], $"{at}.outputs[{o}]", catalogue, Say);
            }
        }

        foreach (IGrouping<string, PlannedOutput> same in PlannedOutput.Of(plan).GroupBy(o => o.Name.Prefix + "#" + o.Name.Suffix).Where(g => g.Count() > 1))
        {
            PlannedOutput second = same.Last();
            int layer = plan.Layers.IndexOf(second.Layer);
            Say($"layers[{layer}].outputs[{second.Layer.Outputs.IndexOf(second.Output)}].template", $"Two outputs write {second.Key}; put {{layer}} or {{pass}} into one of the names.");
        }

        return problems.ToImmutable();
    }

    private static void CheckOutput(Plan plan, LayerPlan layer, OutputPlan output, string at, PassCatalogue catalogue, Action<string, string?> say)
    {
        FrameSet frames = output.Frames ?? layer.Frames ?? plan.Shot.Frames;
        if (!NameTemplate.TryParse(output.Template, out NameTemplate? template, out string? problem))
        {
            say($"{at}.template", problem);
        }
        else if (!template.HasFrame && frames.LongCount > 1)
        {
            say($"{at}.template", $"{frames.LongCount} frames are planned and the name has no {{frame}}: every frame would overwrite the one before. Write …{{frame}}.exr.");
        }

        say($"{at}.frames", RangeProblem(output.Frames, layer.Frames ?? plan.Shot.Frames, "layer"));
        say($"{at}.padding", output.Padding is < 1 or > MaxPadding ? $"Padding must be 1 to {MaxPadding} digits." :
            !frames.IsEmpty && output.Padding > 1 && DigitsNeeded(frames) > output.Padding ? $"Frame {frames.Last} needs {DigitsNeeded(frames)} digits; the padding is {output.Padding}." : null);
        say($"{at}.compression", output.Compression is null || ExrCompression.Find(output.Compression) is not null ? null :
            $"'{output.Compression}' is not a compression; use {string.Join(", ", ExrCompression.All.Select(c => c.Name))}.");
        for (int p = 0; p < output.Passes.Length; p++)
        {
            PassPlan pass = output.Passes[p];
            say($"{at}.passes[{p}].pass", catalogue.TryFind(pass.Pass, out _) ? null : UnknownPass(pass.Pass, catalogue));
            say($"{at}.passes[{p}].frames", TooManyProblem(pass.Frames));
            say($"{at}.passes[{p}].channels", pass.Channels.Count > 0 ? null : $"{pass.Pass} has no channels.");
        }

        foreach (string twice in output.Passes.SelectMany(p => p.Channels.Keys).GroupBy(c => c).Where(g => g.Count() > 1 && template?.IsPerPass != true).Select(g => g.Key))
        {
            say($"{at}.passes", $"Two passes of one file use the channel {twice}.");
        }
    }

    /// <summary>What is wrong with the frames of a shot, or null.</summary>
    public static string? FramesProblem(FrameSet frames) =>
        frames.IsEmpty ? "The shot has no frames; write a range such as 1001-1048." : TooManyProblem(frames);

    /// <summary>What is wrong with frames of a shot, layer, output or pass that nobody can have meant, or null.</summary>
    public static string? TooManyProblem(FrameSet? frames) =>
        frames?.LongCount > MaxFrames ? $"{frames.LongCount:N0} frames are more than the {MaxFrames:N0} that a shot may have; look for a digit too many." : null;

    /// <summary>What is wrong with a code or layer name that goes into paths, or null.</summary>
    public static string? NameProblem(string? name) =>
        string.IsNullOrWhiteSpace(name) ? "A name is needed." :
        name.Length > 64 ? "A name may have at most 64 characters." :
        name.Any(c => !(char.IsAsciiLetterOrDigit(c) || c is '_' or '-')) ? $"'{name}' may hold letters, digits, _ and - only, since it goes into file names." : null;

    /// <summary>What to say about a pass that the catalogue does not hold: the nearest one it does.</summary>
    public static string UnknownPass(string pass, PassCatalogue catalogue)
    {
        PassDefinition near = catalogue.FindByAlias(pass) ?? catalogue.Passes.MinBy(p => EditDistance.Between(p.Stem, pass))!;
        return near.IsFamily && pass.Split('.')[0] == near.Stem
            ? $"'{pass}' needs a name of its own, such as {near.Stem}.lamps."
            : $"'{pass}' is not a pass of the catalogue; the nearest is {near.Key}.";
    }

    /// <summary>Digits that the widest frame number needs; common practice is padding at least as wide.</summary>
    public static int DigitsNeeded(FrameSet frames) => Math.Max(FrameName.DigitsFor(frames.First), FrameName.DigitsFor(frames.Last));

    private static string? RangeProblem(FrameSet? frames, FrameSet parent, string of) =>
        frames is null ? null :
        frames.IsEmpty ? $"No frames are given; leave the field out to have the {of}'s." :
        frames.IsStill || frames.Except(parent) is { IsEmpty: true } ? null :
        $"Frames {frames.Except(parent)} lie outside the {of}'s {parent}.";
}
