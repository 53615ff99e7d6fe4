using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Bench;

/// <summary>
/// Frames to measure on: the stand-in's sub layer with 31 half channels and one float Z in one file, as a pass sheet with a rebuild
/// asks for them.
/// </summary>
internal static class BenchFrames
{
    private const string Light = "direct_diffuse indirect_diffuse specular reflection refraction emission";

    /// <summary>A plan of one layer: 32 channels a file.</summary>
    public static Plan Plan(int frames, int width = 1920, int height = 1080, string compression = "zip")
    {
        Plan shot = StandInPlan.Create("KP010", FrameSet.Range(1001, 1000 + frames), width, height);
        LayerPlan sub = shot.Layers[0];
        OutputPlan colour = sub.Outputs[0] with
        {
            Compression = compression,
            Passes =
            [
                .. $"beauty {Light} matte.sub normal motion depth object_id"
                    .Split(' ')
                    .Select(p =>
                        p == "object_id"
                            ? new PassPlan
                            {
                                Pass = p,
                                Channels = new OrderedDictionary<string, ChannelType> { ["object_id.Y"] = ChannelType.Half },
                            }
                            : PassPlanDefaults.Create(p, sub.Alpha)
                    ),
            ],
        };
        return shot with { Layers = [sub with { Outputs = [colour] }] };
    }

    /// <summary>
    /// Renders two frames of a plan and writes them in turn for all of its frames, the later ones moved by a line each so that no two are
    /// the same;
    /// writes the plan beside them and returns the paths.
    /// </summary>
    public static string[] Write(Plan plan, string folder, string? source = null)
    {
        source ??= folder + "-source";
        if (!Directory.Exists(source))
        {
            Disk.Render(plan, source, FrameSet.Range(1001, 1002), []);
        }

        string layer = Path.Combine(folder, "sub");
        Directory.CreateDirectory(layer);
        ExrImage[] pictures = [.. Directory.GetFiles(Path.Combine(source, "sub")).Order().Select(Read)];
        foreach (int frame in plan.Shot.Frames)
        {
            ExrImage picture = pictures[frame % 2];
            ExrPart part = picture.Part;
            var compression = ExrCompression.Find(plan.Layers[0].Outputs[0].Compression)!;
            var own = new ExrPart(
                part.Channels,
                part.DisplayWindow,
                part.DataWindow,
                compression,
                part.Attributes.Where(a => a.Name is "framesPerSecond" or "cameraLabel")
            );
            int shift = (frame - 1001) / 2 * picture.Width;
            ExrWriter.Write(
                Disk.File(Path.Combine(layer, $"KP010_sub.{frame}.exr")),
                new ExrImage(own, picture.Planes.ToImmutableDictionary(p => p.Key, p => Shifted(p.Value, shift)))
            );
        }

        File.WriteAllText(Path.Combine(folder, "plan.json"), PlanDocument.Write(plan));
        return [.. Directory.GetFiles(layer).Order()];
    }

    private static ExrImage Read(string path)
    {
        using ExrFile file = Disk.Exr(path);
        return ExrImage.Read(file, file.Parts[0], null, out _, default);
    }

    private static float[] Shifted(float[] plane, int by) => [.. plane[by..], .. plane[..by]];
}
