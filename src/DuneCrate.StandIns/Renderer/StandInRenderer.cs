using System.Collections.Immutable;
using System.Text.Json;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Cryptomatte;
using DuneCrate.Planning.Model;

namespace DuneCrate.StandIns.Renderer;

/// <summary>
/// The stand-in for an outside renderer: renders the layers of a <see cref="StandInPlan"/> on all cores and writes the files that
/// the plan asks for, with faults on demand. The same plan and faults give the same bytes.
/// </summary>
public static class StandInRenderer
{
    /// <summary>Most pixels of a picture; every pass of one is in memory at once.</summary>
    private const long MostPixels = 40_000_000;

    /// <summary>
    /// What a made-up render machine takes per pass and megapixel; written into headers so that the same input gives the same bytes.
    /// </summary>
    private const float SecondsPerMegapixel = 9;

    /// <summary>Renders frames of a plan into a folder.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="folder">Where to; made when it is not there.</param>
    /// <param name="frames">The frames to render, or null for the plan's.</param>
    /// <param name="faults">What is to go wrong.</param>
    /// <param name="progress">Told after every layer frame.</param>
    /// <param name="cancel">Stops between layer frames.</param>
    /// <exception cref="ArgumentException">The picture is larger than the stand-in renders.</exception>
    /// <exception cref="IOException">A file cannot be written.</exception>
    public static void Render(
        Plan plan,
        StoragePath folder,
        FrameSet? frames,
        IReadOnlyCollection<Fault> faults,
        IProgress<RenderProgress>? progress = null,
        CancellationToken cancel = default
    )
    {
        PixelBox window = plan.Shot.DataWindow;
        if (window.Width * window.Height > MostPixels)
        {
            throw new ArgumentException(
                $"{window.Width} × {window.Height} pixels are more than the stand-in renders; it is for pictures of up to "
                    + $"{MostPixels / 1_000_000} million."
            );
        }

        ImmutableArray<PlannedOutput> outputs = PlannedOutput.From(plan);
        foreach (StoragePath directory in outputs.Select(o => folder.At(o.Name.At(0)).Parent).Distinct())
        {
            directory.CreateFolder();
        }

        (int Frame, string Layer)[] jobs =
        [
            .. from frame in frames ?? plan.Shot.Frames
            from layer in plan.Layers
            where !layer.Off && layer.Passes.Any()
            select (frame, layer.Name),
        ];
        int done = 0;
        Parallel.ForEach(
            jobs,
            new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount, CancellationToken = cancel },
            job =>
            {
                RenderLayerFrame(
                    plan,
                    folder,
                    [.. outputs.Where(o => o.Layer.Name == job.Layer)],
                    job.Frame,
                    [.. faults.Where(f => f.Layer == job.Layer && f.Frames.Contains(job.Frame))]
                );
                progress?.Report(new RenderProgress(Interlocked.Increment(ref done), jobs.Length));
            }
        );
    }

    /// <summary>
    /// Renders frames with all layers in one picture, which a stack of the layers is held against: <c>whole/SHOT_whole.####.exr</c>, red,
    /// green and blue of float.
    /// </summary>
    /// <param name="shot">The shot.</param>
    /// <param name="folder">Where to.</param>
    /// <param name="frames">The frames, or null for the shot's.</param>
    /// <param name="cancel">Stops between frames.</param>
    /// <exception cref="IOException">A file cannot be written.</exception>
    public static void RenderWhole(ShotPlan shot, StoragePath folder, FrameSet? frames, CancellationToken cancel = default)
    {
        folder.At("whole").CreateFolder();
        string[] names = ["R", "G", "B"];
        Parallel.ForEach(
            frames ?? shot.Frames,
            new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount, CancellationToken = cancel },
            frame =>
            {
                Dictionary<string, float[]> planes = FrameRenderer.Render(shot.Code, frame, null, shot.Width, shot.Height, shot.Overscan);
                var part = new ExrPart(
                    names.Select(n => new ExrChannel(n, ExrPixelType.Float)),
                    PixelBox.OfSize(shot.Width, shot.Height),
                    shot.DataWindow,
                    ExrCompression.Zip,
                    [ExrAttribute.Rational("framesPerSecond", shot.FrameRate)]
                );
                ExrWriter.Write(
                    folder.At(new FrameName($"whole/{shot.Code}_whole.", ".exr", 4).At(frame)),
                    new ExrImage(part, names.ToImmutableDictionary(n => n, n => planes[n]))
                );
            }
        );
    }

    private static void RenderLayerFrame(Plan plan, StoragePath folder, PlannedOutput[] outputs, int frame, Fault[] faults)
    {
        foreach (
            IGrouping<(int Source, double Scale), PlannedOutput> group in outputs.GroupBy(o =>
                (Source: Has(o, "copy") ? frame - 1 : frame, Scale: Has(o, "wrong-size") ? 0.75 : 1)
            )
        )
        {
            ShotPlan shot = plan.Shot with
            {
                Width = (int)(plan.Shot.Width * group.Key.Scale),
                Height = (int)(plan.Shot.Height * group.Key.Scale),
            };
            Dictionary<string, float[]> planes = FrameRenderer.Render(
                shot.Code,
                group.Key.Source,
                SceneLayer(plan, outputs[0].Layer),
                shot.Width,
                shot.Height,
                shot.Overscan,
                Hidden(outputs[0].Layer)
            );
            foreach (PlannedOutput output in group)
            {
                Write(shot, folder, output, frame, planes, [.. faults.Where(f => Concerns(f, output)).Select(f => f.Kind)]);
            }
        }

        bool Has(PlannedOutput output, string kind) => faults.Any(f => f.Kind == kind && Concerns(f, output));
    }

    /// <summary>The layer of the scene that a planned layer shows: its own, or that of the layer it is based on.</summary>
    private static string SceneLayer(Plan plan, LayerPlan layer)
    {
        for (int i = 0; i < plan.Layers.Length && layer.BasedOn is { } name && plan.FindLayer(name) is { } on; i++)
        {
            layer = on;
        }

        return layer.Name;
    }

    /// <summary>Items hidden in a layer that would otherwise be in it.</summary>
    private static HashSet<string> Hidden(LayerPlan layer) =>
        layer.BasedOn is null ? [] : [.. (layer.Roles ?? []).Where(r => r.Value == ItemRole.Hidden).Select(r => r.Key)];

    private static bool Concerns(Fault fault, PlannedOutput output) =>
        fault.Pass is not null ? output.Passes.Any(p => p.Pass == fault.Pass)
        : fault.Kind == "half-depth" ? output.Passes.Any(p => p.Pass == "depth")
        : output.HasBeauty;

    private static void Write(
        ShotPlan shot,
        StoragePath folder,
        PlannedOutput output,
        int frame,
        Dictionary<string, float[]> planes,
        HashSet<string> kinds
    )
    {
        if (kinds.Contains("missing"))
        {
            return;
        }

        string name = output.Name.At(frame);
        name =
            kinds.Contains("repadded") ? (output.Name with { Padding = output.Name.Padding + 1 }).At(frame)
            : kinds.Contains("renamed") ? Swapped(name)
            : name;
        folder
            .At(name)
            .Replace(
                stream =>
                {
                    if (kinds.Contains("empty"))
                    {
                        return;
                    }

                    using var whole = new MemoryStream();
                    ExrWriter.Write(whole, Image(shot, output, planes, kinds));
                    whole.SetLength(kinds.Contains("truncated") ? whole.Length * 3 / 5 : whole.Length);
                    whole.WriteTo(stream);
                },
                isLasting: false
            );
    }

    /// <summary>Swaps the last two letters before the number: the slip of a hand that types names.</summary>
    private static string Swapped(string path)
    {
        int dot = path.LastIndexOf('.', path.LastIndexOf('.') - 1);
        return path[..(dot - 2)] + path[dot - 1] + path[dot - 2] + path[dot..];
    }

    private static ExrImage Image(ShotPlan shot, PlannedOutput output, Dictionary<string, float[]> planes, HashSet<string> kinds)
    {
        var channels = output.Passes.SelectMany(p => p.Channels).ToDictionary(c => c.Key, c => c.Value);
        var passOf = output.Passes.SelectMany(p => p.Channels.Keys.Select(c => (c, p.Pass))).ToDictionary(c => c.c, c => c.Pass);
        string[] light = [.. output.Layer.Rebuild.SelectMany(t => t.Factors).Where(f => output.Passes.Any(p => p.Pass == f))];
        if (kinds.Contains("dropped-channel"))
        {
            channels.Remove(channels.Keys.LastOrDefault(c => light.Length > 0 && passOf[c] == light[^1]) ?? channels.Keys.Last());
        }

        if (kinds.Contains("half-depth") && channels.ContainsKey("Z"))
        {
            channels["Z"] = ChannelType.Half;
        }

        PixelBox display = PixelBox.OfSize(shot.Width, shot.Height),
            window = shot.DataWindow;
        long pixels = window.Width * window.Height;
        var values = channels.Keys.ToImmutableDictionary(
            c => c,
            c => Spoil(c, passOf[c], Rendered(planes, c, passOf[c]) ?? new float[pixels], light, kinds)
        );
        FrameRate rate = shot.FrameRate;
        FrameRate written = kinds.Contains("wrong-rate")
            ? rate == new FrameRate(25, 1)
                ? new FrameRate(24, 1)
                : new FrameRate(25, 1)
            : rate;
        List<ExrAttribute> attributes =
        [
            ExrAttribute.Rational("framesPerSecond", written),
            ExrAttribute.Text("cameraLabel", kinds.Contains("wrong-camera") ? "cam_witness" : shot.Camera),
            ExrAttribute.Text("owner", "Dune Crate stand-in"),
            ExrAttribute.Float("renderSeconds", SecondsPerMegapixel * pixels / 1e6f * output.Layer.Passes.Count()),
        ];
        if (channels.Keys.Any(c => c.StartsWith("CryptoObject", StringComparison.Ordinal)))
        {
            attributes.AddRange(CryptomatteHeader());
        }

        ExrCompression compression = ExrCompression.Find(output.Output.Compression) is { Codec: not null } known
            ? known
            : ExrCompression.Zip;
        return new ExrImage(
            new ExrPart(
                channels.Select(c => new ExrChannel(c.Key, c.Value.ToExr())),
                display,
                window,
                compression,
                attributes,
                pixelAspectRatio: (float)shot.PixelAspectRatio
            ),
            values
        );
    }

    /// <summary>What was rendered for a channel, which the plan may call otherwise than the catalogue does.</summary>
    private static float[]? Rendered(Dictionary<string, float[]> planes, string channel, string pass) =>
        planes.GetValueOrDefault(channel) ?? planes.GetValueOrDefault($"{pass}.{ChannelNames.LastOf(channel)}");

    private static float[] Spoil(string channel, string pass, float[] plane, string[] light, HashSet<string> kinds)
    {
        bool isBeauty = channel is "R" or "G" or "B",
            isLight = light.Contains(pass);
        if (!isBeauty && !isLight)
        {
            return plane;
        }

        if (kinds.Contains("black") || (kinds.Contains("unlit") && light.Length > 1 && pass == light[1]))
        {
            return new float[plane.Length];
        }

        float[] copy = [.. plane];
        if (kinds.Contains("8-bit"))
        {
            for (int i = 0; i < copy.Length; i++)
            {
                copy[i] = (float)SrgbCurve.Decode(Math.Round(SrgbCurve.Encode(Math.Clamp(copy[i], 0f, 1f)) * 255) / 255);
            }
        }

        if (kinds.Contains("nonfinite") && isBeauty)
        {
            int at = copy.Length / 2 + 20;
            for (int i = 0; i < 12 && at + i < copy.Length; i++)
            {
                copy[at + i] = i % 4 == 3 ? float.PositiveInfinity : float.NaN;
            }
        }

        return copy;
    }

    /// <summary>Metadata of the object Cryptomatte. Source: Cryptomatte specification 1.2, metadata.</summary>
    private static IEnumerable<ExrAttribute> CryptomatteHeader()
    {
        string key = $"cryptomatte/{CryptomatteHash.LayerKey("CryptoObject")}/";
        var manifest = KelpScene.Items.ToDictionary(
            i => i.Name,
            i =>
                CryptomatteHash.OfName(i.Name) is var hash
                    ? BitConverter
                        .SingleToUInt32Bits(CryptomatteHash.ToFloat(hash))
                        .ToString("x8", System.Globalization.CultureInfo.InvariantCulture)
                    : ""
        );
        return
        [
            ExrAttribute.Text(key + "name", "CryptoObject"),
            ExrAttribute.Text(key + "hash", "MurmurHash3_32"),
            ExrAttribute.Text(key + "conversion", "uint32_to_float32"),
            ExrAttribute.Text(key + "manifest", JsonSerializer.Serialize(manifest)),
        ];
    }
}
