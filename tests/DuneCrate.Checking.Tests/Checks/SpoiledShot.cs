using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Exr;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>A copy of the clean shot to be spoiled.</summary>
internal sealed class SpoiledShot : IDisposable
{
    public const int Width = 96,
        Height = 54;

    public static Plan CleanPlan { get; } = StandInPlan.Create("KP010", FrameSet.Parse("1001-1012"), Width, Height);

    private static readonly WrittenOnce Clean = new(f => Disk.Render(CleanPlan, f.Path, null, []));

    private readonly TempFolder _folder = Clean.Copy();

    public Plan Plan { get; set; } = CleanPlan;

    public string Folder => _folder.Path;

    /// <summary>The file of a layer that holds a channel.</summary>
    public string Path(string layer, string channel, int frame) =>
        System.IO.Path.Combine(
            Folder,
            PlannedOutput
                .From(CleanPlan)
                .First(o => o.Layer.Name == layer && o.Passes.Any(p => p.Channels.ContainsKey(channel)))
                .Name.At(frame)
        );

    /// <summary>Checks every pixel of it.</summary>
    public CheckReport Check(FactsDepth depth = FactsDepth.Pixels) => Disk.Check(Folder, Plan, depth, new NoFactsCache()).Report;

    /// <summary>What a rule finds.</summary>
    public Finding[] Found(string rule) => [.. Check().Findings.Where(f => f.Rule == rule)];

    public SpoiledShot Spoil(string layer, int frame, string channel, Func<float, int, float> change) =>
        Rewrite(layer, channel, frame, planes: p => p.SetItem(channel, [.. p[channel].Select(change)]));

    public SpoiledShot SpoilLight(string layer, int frame, Func<float, float> change) =>
        Rewrite(
            layer,
            "R",
            frame,
            planes: p => p.ToImmutableDictionary(c => c.Key, c => c.Key == "A" ? c.Value : [.. c.Value.Select(change)])
        );

    public void SpoilAll(string layer, string channel, Func<float[], int, float> change)
    {
        foreach (int frame in CleanPlan.Shot.Frames)
        {
            Rewrite(layer, channel, frame, planes: p => p.SetItem(channel, [.. p[channel].Select((_, i) => change(p[channel], i))]));
        }
    }

    /// <summary>A gradient that moves under noise that does not.</summary>
    public void StandingNoise(string layer)
    {
        foreach (int frame in CleanPlan.Shot.Frames)
        {
            var random = new Random(5);
            float[] noise =
            [
                .. Enumerable
                    .Range(0, Width * Height)
                    .Select(i =>
                        (1 + 0.2f * (float)(random.NextDouble() - 0.5)) * (1 + 0.3f * MathF.Sin((i % Width + 5 * (frame - 1000)) / 6f))
                    ),
            ];
            Rewrite(layer, "R", frame, planes: p => p.SetItem("R", noise).SetItem("G", noise).SetItem("B", noise));
        }
    }

    /// <summary>Stores a channel as half, in files and plan, its values times something.</summary>
    public void AsHalf(string layer, string channel, float times)
    {
        foreach (int frame in CleanPlan.Shot.Frames)
        {
            Rewrite(
                layer,
                channel,
                frame,
                planes: p => p.SetItem(channel, [.. p[channel].Select(v => v > 1e5 ? v : v * times)]),
                half: channel
            );
        }

        Plan = WithPass(
            layer,
            p => p.Channels.ContainsKey(channel),
            p =>
                p with
                {
                    Channels = new(p.Channels.Select(c => KeyValuePair.Create(c.Key, c.Key == channel ? ChannelType.Half : c.Value))),
                }
        );
    }

    public Plan WithIds(string layer, string ids) => WithPass(layer, p => p.Pass == "object_id", p => p with { Ids = FrameSet.Parse(ids) });

    public Plan WithThreshold(string rule, string name, double value) =>
        Plan with
        {
            Show = Plan.Show with { Rules = new() { [rule] = new RuleSetting { Thresholds = new() { [name] = value } } } },
        };

    public void Manifest(string layer, int frame, string manifest)
    {
        string name;
        using (ExrFile file = Disk.Exr(Path(layer, "CryptoObject00.R", frame)))
        {
            name = file.Parts[0].Attributes.First(a => a.Name.EndsWith("/manifest", StringComparison.Ordinal)).Name;
        }

        Rewrite(layer, "CryptoObject00.R", frame, attribute: ExrAttribute.Text(name, manifest));
    }

    public void Append(string layer, string channel, int frame, int bytes)
    {
        using FileStream stream = File.OpenWrite(Path(layer, channel, frame));
        stream.SetLength(stream.Length + bytes);
    }

    /// <summary>Plans one version of a layer's light and gives some frames another.</summary>
    public void Version(string planned, string other, params int[] frames)
    {
        foreach (int frame in CleanPlan.Shot.Frames)
        {
            File.Move(
                Path("sub", "R", frame),
                System.IO.Path.Combine(Folder, "sub", $"KP010_sub_{(frames.Contains(frame) ? other : planned)}.{frame}.exr")
            );
        }

        Plan = Plan with
        {
            Shot = Plan.Shot with { Version = planned },
            Layers =
            [
                .. Plan.Layers.Select(l =>
                    l.Name == "sub"
                        ? l with
                        {
                            Outputs = l.Outputs.SetItem(0, l.Outputs[0] with { Template = "{layer}/{shot}_{layer}_{version}.{frame}.exr" }),
                        }
                        : l
                ),
            ],
        };
    }

    public SpoiledShot Rewrite(
        string layer,
        string channel,
        int frame,
        Func<ImmutableDictionary<string, float[]>, ImmutableDictionary<string, float[]>>? planes = null,
        PixelBox? window = null,
        PixelBox? data = null,
        float aspect = 1,
        ExrAttribute? attribute = null,
        string? half = null
    )
    {
        string path = Path(layer, channel, frame);
        ExrImage image;
        using (ExrFile file = Disk.Exr(path))
        {
            image = ExrImage.Read(file, file.Parts[0], null, out _, default);
        }

        ExrPart part = image.Part;
        PixelBox box = data ?? part.DataWindow;
        string[] known = ["framesPerSecond", "cameraLabel", "owner", "renderSeconds"];
        IEnumerable<ExrAttribute> kept = part.Attributes.Where(a =>
            (known.Contains(a.Name) || a.Name.StartsWith("cryptomatte/", StringComparison.Ordinal)) && a.Name != attribute?.Name
        );
        var own = new ExrPart(
            part.Channels.Select(c => c.Name == half ? new ExrChannel(c.Name, ExrPixelType.Half) : c),
            window ?? part.DisplayWindow,
            box,
            part.Compression,
            attribute is null ? kept : kept.Append(attribute),
            pixelAspectRatio: aspect
        );
        int size = (int)(box.Width * box.Height);
        ImmutableDictionary<string, float[]> changed = planes?.Invoke(image.Planes) ?? image.Planes;
        ExrWriter.Write(Disk.File(path), new ExrImage(own, changed.ToImmutableDictionary(p => p.Key, p => p.Value[..size])));
        return this;
    }

    private Plan WithPass(string layer, Func<PassPlan, bool> which, Func<PassPlan, PassPlan> change) =>
        Plan with
        {
            Layers =
            [
                .. Plan.Layers.Select(l =>
                    l.Name == layer
                        ? l with
                        {
                            Outputs = [.. l.Outputs.Select(o => o with { Passes = [.. o.Passes.Select(p => which(p) ? change(p) : p)] })],
                        }
                        : l
                ),
            ],
        };

    public void Dispose() => _folder.Dispose();
}
