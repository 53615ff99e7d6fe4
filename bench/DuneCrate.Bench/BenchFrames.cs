using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Bench;

/// <summary>
/// Frames to measure on: the stand-in's sub layer with 31 half channels and one float Z in one file, as a pass sheet with a rebuild
/// asks for them.
/// </summary>
internal static class BenchFrames
{
    private const string All = $"beauty {Light} matte.sub normal motion depth object_id";

    private const string Light = "direct_diffuse indirect_diffuse specular reflection refraction emission";

    /// <summary>A plan of one layer: 32 channels a file.</summary>
    public static Plan Plan(int frames, int width = 1920, int height = 1080, string compression = "zip", string passes = All)
    {
        Plan shot = StandInPlan.Create("KP010", FrameSet.Range(1001, 1000 + frames), width, height);
        LayerPlan sub = shot.Layers[0];
        OutputPlan colour = sub.Outputs[0] with
        {
            Compression = compression,
            Passes =
            [
                .. passes
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
    /// <param name="plan">The plan.</param>
    /// <param name="folder">Where to.</param>
    /// <param name="source">Where the two frames are rendered.</param>
    /// <param name="times">How many times as wide and high as the rendered frames those that are written are.</param>
    /// <param name="hasGrain">Whether every light pass gets grain, which the beauty has too.</param>
    public static string[] Write(Plan plan, string folder, string? source = null, int times = 1, bool hasGrain = false)
    {
        source ??= folder + "-source";
        if (!Directory.Exists(source))
        {
            Plan small = plan with { Shot = plan.Shot with { Width = plan.Shot.Width / times, Height = plan.Shot.Height / times } };
            Disk.Render(small, source, FrameSet.Range(1001, 1002), []);
        }

        string layer = Path.Combine(folder, "sub");
        Directory.CreateDirectory(layer);
        ExrImage[] pictures = [.. Directory.GetFiles(Path.Combine(source, "sub")).Order().Select(Read)];
        if (hasGrain)
        {
            Array.ForEach(pictures, AddGrain);
        }

        foreach (int frame in plan.Shot.Frames)
        {
            ExrImage picture = pictures[frame % 2];
            ExrPart part = picture.Part;
            var compression = ExrCompression.Find(plan.Layers[0].Outputs[0].Compression)!;
            var own = new ExrPart(
                part.Channels,
                Larger(part.DisplayWindow, times),
                Larger(part.DataWindow, times),
                compression,
                part.Attributes.Where(a => a.Name is "framesPerSecond" or "cameraLabel")
            );
            int shift = (frame - 1001) / 2 * picture.Width;
            ExrWriter.Write(
                Disk.File(Path.Combine(layer, $"KP010_sub.{frame}.exr")),
                new ExrImage(
                    own,
                    picture.Planes.ToImmutableDictionary(p => p.Key, p => Larger(Shifted(p.Value, shift), picture.Width, times))
                )
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

    /// <summary>
    /// Grain like film's in every light pass, wherever the layer covers anything: a share of the light and a little on top, so that none is
    /// negative; where the layer is empty, it stays so.
    /// </summary>
    private static void AddGrain(ExrImage picture)
    {
        const float Strength = 0.08f,
            Floor = 0.01f;
        float[] alpha = picture.Planes["A"];
        var random = new Random(1);
        foreach (string pass in Light.Split(' '))
        {
            foreach (string colour in (string[])["R", "G", "B"])
            {
                float[] plane = picture.Planes[$"{pass}.{colour}"],
                    beauty = picture.Planes[colour];
                for (int i = 0; i < plane.Length; i++)
                {
                    if (alpha[i] == 0)
                    {
                        continue;
                    }

                    float chance = random.NextSingle() + random.NextSingle(),
                        grain = Strength * ((chance - 1) * plane[i] + chance * Floor);
                    plane[i] += grain;
                    beauty[i] += grain;
                }
            }
        }
    }

    private static float[] Shifted(float[] plane, int by) => [.. plane[by..], .. plane[..by]];

    private static PixelBox Larger(PixelBox box, int times) =>
        new(box.MinX * times, box.MinY * times, box.MaxX * times + times - 1, box.MaxY * times + times - 1);

    private static float[] Larger(float[] plane, int width, int times)
    {
        if (times == 1)
        {
            return plane;
        }

        float[] large = new float[plane.Length * times * times];
        for (int i = 0; i < large.Length; i++)
        {
            (int y, int x) = Math.DivRem(i, width * times);
            large[i] = plane[y / times * width + x / times];
        }

        return large;
    }
}
