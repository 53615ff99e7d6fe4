using System.CommandLine;
using System.Globalization;
using DuneCrate.Commands;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune stand-in render --to DIR</c></summary>
internal static class StandInVerb
{
    public static Command Create()
    {
        var to = new Option<string>("--to") { Description = "The folder to render into", Required = true };
        var shot = new Option<string>("--shot") { Description = "Code of the shot", DefaultValueFactory = _ => "KP010" };
        var frames = new Option<string>("--frames") { Description = "Frames, such as 1001-1024", DefaultValueFactory = _ => "1001-1024" };
        var size = new Option<string>("--size")
        {
            Description = "Width and height in pixels",
            DefaultValueFactory = _ => $"{StandInPlan.Width}x{StandInPlan.Height}",
        };
        var faults = new Option<string[]>("--fault")
        {
            Description = $"KIND:LAYER:FRAMES, as often as wanted; kinds: {string.Join(", ", Fault.Kinds.Keys)}",
            DefaultValueFactory = _ => [],
        };
        var whole = new Option<bool>("--whole") { Description = "All layers in one picture too, in the folder whole" };
        var render = new Command("render", "The small renderer: frames of The Kelp Post and, beside them, the plan they were rendered to.")
        {
            to,
            shot,
            frames,
            size,
            faults,
            whole,
        };
        render.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                        Run(
                            parsed.GetRequiredValue(to),
                            parsed.GetRequiredValue(shot),
                            parsed.GetRequiredValue(frames),
                            parsed.GetRequiredValue(size),
                            parsed.GetRequiredValue(faults),
                            parsed.GetValue(whole),
                            cancel
                        )
                    )
                )
        );
        var file = new Option<string>("--to") { Description = "The .gltf file to write", Required = true };
        var scene = new Command("scene", "The scene of The Kelp Post as glTF 2.0, for trying the roster.") { file, shot };
        scene.SetAction(parsed =>
            Outcome.Run(() =>
            {
                Shared.Write(parsed.GetRequiredValue(file), () => KelpGltf.Write(parsed.GetRequiredValue(shot)));
                return Outcome.Done;
            })
        );
        return new Command("stand-in", "Small simulations of outside machines.") { render, scene };
    }

    private static int Run(string to, string shot, string frames, string size, string[] faultTexts, bool isWhole, CancellationToken cancel)
    {
        FrameSet set = FrameSet.Parse(frames);
        string[] sides = size.Split('x');
        if (
            set.IsEmpty
            || sides.Length != 2
            || !int.TryParse(sides[0], NumberStyles.None, CultureInfo.InvariantCulture, out int width)
            || !int.TryParse(sides[1], NumberStyles.None, CultureInfo.InvariantCulture, out int height)
            || width is < 8 or > 16384
            || height is < 8 or > 16384
        )
        {
            return Outcome.Fail(set.IsEmpty ? "--frames names no frame." : $"'{size}' is not a size; write 480x270, each side 8 to 16384.");
        }

        if (TextLimits.NameProblem(shot) is { } problem)
        {
            return Outcome.Fail($"--shot: {problem}");
        }

        Plan plan = StandInPlan.Create(shot, set, width, height);
        var faults = new List<Fault>();
        foreach (string text in faultTexts)
        {
            if (!Fault.TryParse(text, out Fault? fault, out string? wrong))
            {
                return Outcome.Fail(wrong);
            }

            if (plan.Layers.All(l => l.Name != fault.Layer))
            {
                return Outcome.Fail($"'{fault.Layer}' is not a layer; use {string.Join(", ", plan.Layers.Select(l => l.Name))}.");
            }

            faults.Add(fault);
        }

        if (set.LongCount > PlanLimits.MaxFrames)
        {
            return Outcome.Fail($"--frames: {PlanValidation.TooManyProblem(set)}");
        }

        Directory.CreateDirectory(to);
        StoragePath folder = Shared.Folder(to);
        folder.At("plan.json").ReplaceText(PlanDocument.Write(plan));
        StandInRenderer.Render(
            plan,
            folder,
            null,
            faults,
            new ProgressLine<RenderProgress>(p => $"{p.Done} of {p.Total} layer frames"),
            cancel
        );
        if (isWhole)
        {
            StandInRenderer.RenderWhole(plan.Shot, folder, null, cancel);
        }

        Terminal.Tell($"rendered {set.LongCount} frames of {shot} into {to}");
        return Outcome.Done;
    }
}
