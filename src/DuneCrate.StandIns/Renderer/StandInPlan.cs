using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.StandIns.Renderer;

/// <summary>The pass sheet that the stand-in renders to.</summary>
public static class StandInPlan
{
    /// <summary>Width of demo frames in pixels.</summary>
    public const int Width = 480;

    /// <summary>Height of demo frames in pixels.</summary>
    public const int Height = 270;

    private static readonly string[] LightFile = ["beauty"];

    /// <summary>A plan of <em>The Kelp Post</em>: colour, data, and a file per pass for the rest.</summary>
    public static Plan Create(string shot, FrameSet frames, int width = Width, int height = Height) =>
        new()
        {
            Show = new ShowPlan { Code = "KELP", Name = "The Kelp Post" },
            Shot = new ShotPlan
            {
                Code = shot,
                Frames = frames,
                FrameRate = new FrameRate(24, 1),
                Width = width,
                Height = height,
                Camera = "cam_main",
            },
            Layers =
            [
                Layer(
                    "sub",
                    AlphaMode.Premultiplied,
                    "direct_diffuse indirect_diffuse specular reflection refraction emission",
                    "matte.sub",
                    "depth normal position uv motion object_id",
                    "ao shadow cryptomatte.object"
                ),
                Layer(
                    "kelp",
                    AlphaMode.Premultiplied,
                    "direct_diffuse indirect_diffuse specular",
                    "",
                    "depth normal motion object_id",
                    "ao"
                ),
                Layer("seabed", AlphaMode.None, "direct_diffuse indirect_diffuse background", "", "depth position uv", "ao shadow"),
            ],
        };

    private static LayerPlan Layer(string name, AlphaMode alpha, string light, string beside, string data, string single) =>
        new()
        {
            Name = name,
            Alpha = alpha,
            Rebuild = [.. Split(light).Select(p => new RebuildTerm(p))],
            Outputs =
            [
                Output("{layer}/{shot}_{layer}.{frame}.exr", LightFile.Concat(Split(light)).Concat(Split(beside)), alpha),
                Output("{layer}_data/{shot}_{layer}_data.{frame}.exr", Split(data), alpha),
                Output("{layer}_{pass}/{shot}_{layer}_{pass}.{frame}.exr", Split(single), alpha),
            ],
        };

    private static string[] Split(string passes) => passes.Split(' ', StringSplitOptions.RemoveEmptyEntries);

    private static OutputPlan Output(string template, IEnumerable<string> passes, AlphaMode alpha) =>
        new()
        {
            Template = template,
            Padding = 4,
            Compression = "zip",
            Passes = [.. passes.Select(p => Pass(p, alpha))],
        };

    /// <summary>The catalogue's channels; occlusion and shadow in one channel.</summary>
    private static PassPlan Pass(string key, AlphaMode alpha) =>
        key is "ao" or "shadow"
            ? new PassPlan
            {
                Pass = key,
                Channels = new OrderedDictionary<string, ChannelType> { [$"{key}.Y"] = ChannelType.Half },
            }
            : PassPlanDefaults.Create(key, alpha);
}
