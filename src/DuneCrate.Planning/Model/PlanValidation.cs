using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Model;

/// <summary>
/// What must hold for a plan to be usable at all, wherever it came from: a form, a file, an edit or the database. Each problem names its
/// field. Source of the cases: OWASP Application
/// Security Verification Standard 4.0.3, V5.1 (input validation) and V12.3 (paths).
/// </summary>
public static class PlanValidation
{
    /// <summary>What to say of overscan that is none.</summary>
    internal static readonly string OverscanBounds = $"The overscan must be 0 to {PlanLimits.MaxOverscan} pixels on every side.";

    /// <summary>Every problem of a plan, in the document's order; empty for a usable plan.</summary>
    public static ImmutableArray<PlanProblem> Check(Plan plan)
    {
        var problems = ImmutableArray.CreateBuilder<PlanProblem>();
        void Say(string field, string? message) => Note(field, message, isFinding: false);
        void Find(string field, string? message) => Note(field, message, isFinding: true);
        void Note(string field, string? message, bool isFinding)
        {
            if (message is not null)
            {
                problems.Add(new PlanProblem(field, message, isFinding));
            }
        }

        CheckShow(plan.Show, Say);
        CheckShot(plan.Shot, Say);
        CheckScene(plan.Items, Say);
        if (SizeProblem(plan) is { } size)
        {
            Say("layers", size);
            return problems.ToImmutable();
        }

        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        for (int l = 0; l < plan.Layers.Length; l++)
        {
            LayerPlan layer = plan.Layers[l];
            Say(
                $"layers[{l}].name",
                TextLimits.NameProblem(layer.Name)
                    ?? (names.Add(layer.Name) ? null : $"Two layers are called {layer.Name}; file systems may not tell them apart.")
            );
            CheckLayer(plan, layer, $"layers[{l}]", Say, Find);
        }

        ImmutableArray<PlannedOutput> outputs = PlannedOutput.From(plan);
        foreach (
            IGrouping<string, PlannedOutput> same in outputs.GroupBy(o => o.Name.Prefix + "#" + o.Name.Suffix).Where(g => g.Count() > 1)
        )
        {
            PlannedOutput second = same.Last();
            Find(FieldOf(plan, second) + ".template", $"Two outputs write {second.Key}; put {{layer}} or {{pass}} into one of the names.");
        }

        if (outputs.FirstOrDefault(o => StoragePath.Problem(o.Name.At(0)) is not null) is { } outside)
        {
            Say(FieldOf(plan, outside) + ".template", $"{outside.Key} {StoragePath.Problem(outside.Name.At(0))}");
        }

        long files = outputs.Sum(o => o.Frames.LongCount);
        Say(
            "layers",
            files > PlanLimits.MaxFiles
                ? $"{files:N0} files are more than the {PlanLimits.MaxFiles:N0} that a shot may have; look for a digit too many."
                : null
        );
        return problems.ToImmutable();
    }

    /// <summary>Every problem of a show's settings; empty for usable ones.</summary>
    public static ImmutableArray<PlanProblem> Check(ShowPlan show)
    {
        var problems = ImmutableArray.CreateBuilder<PlanProblem>();
        CheckShow(
            show,
            (field, message) =>
            {
                if (message is not null)
                {
                    problems.Add(new PlanProblem(field, message));
                }
            }
        );
        return problems.ToImmutable();
    }

    private static string FieldOf(Plan plan, PlannedOutput output) =>
        $"layers[{plan.Layers.IndexOf(output.Layer)}].outputs[{output.Layer.Outputs.IndexOf(output.Output)}]";

    private static void CheckShow(ShowPlan show, Action<string, string?> say)
    {
        say("show.code", TextLimits.NameProblem(show.Code));
        say("show.name", TextLimits.Problem("The name", show.Name));
        say("show.colourSpace", TextLimits.Problem("The colour space", show.ColourSpace));
        say("show.template", show.Template is null ? null : TemplateProblem(show.Template));
        say(
            "show.padding",
            show.Padding is < 1 or > PlanLimits.MaxPadding ? $"Padding must be 1 to {PlanLimits.MaxPadding} digits." : null
        );
        say(
            "show.versionStyle",
            show.VersionStyle is null || VersionStyle.IsStyle(show.VersionStyle)
                ? null
                : "Write versions as a letter and one 0 per digit, such as v000."
        );
        say("show.machines", show.Machines is < 1 or > PlanLimits.MaxMachines ? $"Machines must be 1 to {PlanLimits.MaxMachines}." : null);
        CheckCount("show.passes", show.Passes?.Length, "passes", say);
        foreach ((int i, PassAddition pass) in (show.Passes ?? []).Index())
        {
            say($"show.passes[{i}]", pass.Problem);
        }

        CheckCount("show.aliases", show.Aliases?.Count, "aliases", say);
        foreach ((string alias, string key) in show.Aliases ?? [])
        {
            say(
                "show.aliases",
                TextLimits.Problem("An alias", alias, TextLimits.NameLength)
                    ?? TextLimits.Problem("The pass of an alias", key, TextLimits.NameLength)
            );
        }

        CheckCount("show.rules", show.Rules?.Count, "rules", say);
        CheckSettings("show.settings", show.Settings, say);
        CheckCount("show.preflight", show.Preflight?.Length, "lines", say);
        foreach (string line in show.Preflight ?? [])
        {
            say("show.preflight", TextLimits.Problem("A line of the preflight list", line));
        }
    }

    private static void CheckShot(ShotPlan shot, Action<string, string?> say)
    {
        say("shot.code", TextLimits.NameProblem(shot.Code));
        say("shot.frames", FramesProblem(shot.Frames));
        say("shot.frameRate", shot.FrameRate.Denominator == 0 ? "The frame rate is missing; write 24 or 24000/1001." : null);
        say("shot.width", shot.Width is < 1 or > PlanLimits.MaxSide ? $"The width must be 1 to {PlanLimits.MaxSide} pixels." : null);
        say("shot.height", shot.Height is < 1 or > PlanLimits.MaxSide ? $"The height must be 1 to {PlanLimits.MaxSide} pixels." : null);
        say("shot.overscan", shot.Overscan is < 0 or > PlanLimits.MaxOverscan ? OverscanBounds : null);
        say("shot.pixelAspectRatio", shot.PixelAspectRatio is >= 0.01 and <= 100 ? null : "The pixel aspect ratio must be 0.01 to 100.");
        say("shot.camera", TextLimits.Problem("The camera's name", shot.Camera));
        say("shot.version", shot.Version is null ? null : TextLimits.NameProblem(shot.Version));
        say(
            "shot.testFrame",
            shot.TestFrame is null or { Scale: > 0 and <= 1 } ? null : "The test frame's scale must be above 0 and at most 1."
        );
    }

    private static void CheckScene(ImmutableArray<SceneItem> items, Action<string, string?> say)
    {
        if (items.Length > RosterLimits.MaxItems)
        {
            say(
                "scene.items",
                $"The scene has {items.Length:N0} items; at most {RosterLimits.MaxItems:N0} are kept. Leave out what no pass depends on."
            );
            return;
        }

        var names = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        foreach ((int i, SceneItem item) in items.Index())
        {
            say($"scene.items[{i}]", item.Problem ?? (names.Add(item.Name) ? null : $"Two items are called {item.Name}."));
        }
    }

    /// <summary>What is wrong with how much a plan holds, or null.</summary>
    private static string? SizeProblem(Plan plan)
    {
        int outputs = plan.Layers.Sum(l => l.Outputs.Length),
            passes = plan.Layers.Sum(l => l.AllPasses.Count());
        return plan.Layers.Length > PlanLimits.MaxLayers
                ? $"{plan.Layers.Length} layers are more than the {PlanLimits.MaxLayers} that a shot may have."
            : outputs > PlanLimits.MaxOutputs ? $"{outputs} outputs are more than the {PlanLimits.MaxOutputs} that a shot may have."
            : passes > PlanLimits.MaxPasses ? $"{passes} passes are more than the {PlanLimits.MaxPasses} that a shot may have."
            : null;
    }

    private static void CheckLayer(Plan plan, LayerPlan layer, string at, Action<string, string?> say, Action<string, string?> find)
    {
        say($"{at}.frames", TooManyProblem(layer.Frames));
        find($"{at}.frames", RangeProblem(layer.Frames, plan.Shot.Frames, "shot"));
        say($"{at}.group", TextLimits.Problem("The group", layer.Group, TextLimits.NameLength));
        var planned = layer.AllPasses.Select(p => p.Pass).ToHashSet();
        foreach (string term in layer.Rebuild.SelectMany(t => t.Factors).Where(f => !planned.Contains(f)))
        {
            say($"{at}.rebuild", $"The rebuild adds {Short(term)}, which the layer does not put out; plan it or take it from the sum.");
        }

        say(
            $"{at}.roles",
            layer.Roles?.Count > RosterLimits.MaxItems ? $"A layer may have roles for at most {RosterLimits.MaxItems:N0} items." : null
        );
        CheckSettings($"{at}.settings", layer.Settings, say);
        CheckCount($"{at}.changes", layer.Changes?.Length, "changes", say);
        foreach (LayerChange change in layer.Changes ?? [])
        {
            say(
                $"{at}.changes",
                TextLimits.Problem("What is changed", change.What)
                    ?? TextLimits.Problem("The value", change.Value)
                    ?? TextLimits.Problem("The reason", change.Why, TextLimits.NoteLength)
            );
        }

        for (int o = 0; o < layer.Outputs.Length; o++)
        {
            CheckOutput(plan, layer, layer.Outputs[o], $"{at}.outputs[{o}]", say, find);
        }
    }

    private static void CheckOutput(
        Plan plan,
        LayerPlan layer,
        OutputPlan output,
        string at,
        Action<string, string?> say,
        Action<string, string?> find
    )
    {
        FrameSet frames = output.Frames ?? layer.Frames ?? plan.Shot.Frames;
        string? problem = TemplateProblem(output.Template);
        say($"{at}.template", problem);
        if (problem is null && !NameTemplate.Parse(output.Template).HasFrame && frames.LongCount > 1)
        {
            find(
                $"{at}.template",
                $"{frames.LongCount} frames are planned and the name has no {{frame}}: every frame would overwrite the one before. "
                    + $"Write …{{frame}}.exr."
            );
        }

        say($"{at}.frames", TooManyProblem(output.Frames));
        find($"{at}.frames", RangeProblem(output.Frames, layer.Frames ?? plan.Shot.Frames, "layer"));
        say(
            $"{at}.padding",
            output.Padding is < 1 or > PlanLimits.MaxPadding ? $"Padding must be 1 to {PlanLimits.MaxPadding} digits." : null
        );
        find(
            $"{at}.padding",
            !frames.IsEmpty && output.Padding > 1 && DigitsNeeded(frames) > output.Padding
                ? $"Frame {frames.Last} needs {DigitsNeeded(frames)} digits; the padding is {output.Padding}."
                : null
        );
        say(
            $"{at}.compression",
            output.Compression is null || ExrCompression.Find(output.Compression) is not null
                ? null
                : $"'{Short(output.Compression)}' is not a compression; use {string.Join(", ", ExrCompression.All.Select(c => c.Name))}."
        );
        for (int p = 0; p < output.Passes.Length; p++)
        {
            CheckPass(output.Passes[p], plan.Catalogue, $"{at}.passes[{p}]", say, find);
        }

        foreach (
            string twice in output
                .Passes.SelectMany(p => p.Channels.Keys)
                .GroupBy(c => c)
                .Where(g => g.Count() > 1 && !output.IsPerPass)
                .Select(g => g.Key)
        )
        {
            say($"{at}.passes", $"Two passes of one file use the channel {Short(twice)}.");
        }
    }

    private static void CheckPass(
        PassPlan pass,
        PassCatalogue catalogue,
        string at,
        Action<string, string?> say,
        Action<string, string?> find
    )
    {
        string? name = pass
            .Pass.Split('.')
            .OrderByDescending(p => p.Length)
            .Select(TextLimits.NameProblem)
            .FirstOrDefault(p => p is not null);
        say($"{at}.pass", name);
        find($"{at}.pass", name is not null || catalogue.TryFind(pass.Pass, out _) ? null : UnknownPass(pass.Pass, catalogue));
        say($"{at}.frames", TooManyProblem(pass.Frames));
        say(
            $"{at}.channels",
            pass.Channels.Count == 0 ? $"{Short(pass.Pass)} has no channels."
                : pass.Channels.Count > PlanLimits.MaxChannels
                    ? $"{pass.Channels.Count} channels are more than the {PlanLimits.MaxChannels} that a pass may have."
                : pass.Channels.Keys.Select(ChannelProblem).FirstOrDefault(p => p is not null)
        );
        say(
            $"{at}.threshold",
            pass.Threshold is null or (>= 0 and <= 1) ? null : "The coverage from which on an edge counts as surface must be 0 to 1."
        );
        say(
            $"{at}.near",
            pass is { Near: { } near, Far: { } far } && !(near < far) ? "The nearest distance must be less than the farthest." : null
        );
        CheckCount($"{at}.masks", pass.Masks?.Count, "masks", say);
        foreach ((string channel, string mask) in pass.Masks ?? [])
        {
            say($"{at}.masks", ChannelProblem(channel) ?? TextLimits.NameProblem(mask));
        }
    }

    private static void CheckSettings(string field, OrderedDictionary<string, string>? settings, Action<string, string?> say)
    {
        CheckCount(field, settings?.Count, "settings", say);
        foreach ((string name, string value) in settings ?? [])
        {
            say(
                field,
                TextLimits.Problem("A setting's name", name, TextLimits.NameLength)
                    ?? TextLimits.Problem("A setting's value", value)
                    ?? RenderSettings.Problem(name, value)
            );
        }
    }

    private static void CheckCount(string field, int? count, string what, Action<string, string?> say) =>
        say(field, count > PlanLimits.MaxEntries ? $"{count} {what} are more than the {PlanLimits.MaxEntries} that are kept." : null);

    /// <summary>What is wrong with a channel's name, or null. Source: <em>OpenEXR File Layout</em>: names of at most 255 bytes.</summary>
    private static string? ChannelProblem(string name) =>
        name.Length is 0 or > 255 || name.Any(char.IsControl)
            ? "A channel's name has 1 to 255 characters and no control characters."
            : null;

    /// <summary>What is wrong with a name template, or null.</summary>
    public static string? TemplateProblem(string template) =>
        template.Length > TextLimits.TemplateLength ? $"The name has {template.Length} characters; at most {TextLimits.TemplateLength} fit."
        : NameTemplate.TryParse(template, out _, out string? problem) ? null
        : problem;

    /// <summary>A text that somebody may have made very long.</summary>
    private static string Short(string text) => text.Length <= TextLimits.NameLength ? text : text[..TextLimits.NameLength] + "…";

    /// <summary>What is wrong with the frames of a shot, or null.</summary>
    public static string? FramesProblem(FrameSet frames) =>
        frames.IsEmpty ? "The shot has no frames; write a range such as 1001-1048." : TooManyProblem(frames);

    /// <summary>What is wrong with frames of a shot, layer, output or pass that nobody can have meant, or null.</summary>
    public static string? TooManyProblem(FrameSet? frames) =>
        frames?.LongCount > PlanLimits.MaxFrames
            ? $"{frames.LongCount:N0} frames are more than the {PlanLimits.MaxFrames:N0} that a shot may have; look for a digit too many."
            : null;

    /// <summary>What to say about a pass that the catalogue does not hold: the nearest one it does.</summary>
    public static string UnknownPass(string pass, PassCatalogue catalogue)
    {
        pass = Short(pass);
        PassDefinition near = catalogue.FindByAlias(pass) ?? catalogue.Passes.MinBy(p => EditDistance.Between(p.Stem, pass))!;
        return near.IsFamily && pass.Split('.')[0] == near.Stem
            ? $"'{pass}' needs a name of its own, such as {near.Stem}.lamps."
            : $"'{pass}' is not a pass of the catalogue; the nearest is {near.Key}.";
    }

    /// <summary>Digits that the widest frame number needs; common practice is padding at least as wide.</summary>
    public static int DigitsNeeded(FrameSet frames) => Math.Max(FrameName.DigitsFor(frames.First), FrameName.DigitsFor(frames.Last));

    private static string? RangeProblem(FrameSet? frames, FrameSet parent, string of) =>
        frames is null ? null
        : frames.IsEmpty ? $"No frames are given; leave the field out to have the {of}'s."
        : frames.IsStill
        || TooManyProblem(frames) is not null
        || TooManyProblem(parent) is not null
        || frames.Except(parent) is { IsEmpty: true }
            ? null
        : $"Frames {frames.Except(parent)} lie outside the {of}'s {parent}.";
}
