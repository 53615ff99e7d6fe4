using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Colour;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using NetVips;

namespace DuneCrate.StandIns.Demo;

/// <summary>
/// A shot as another house would deliver it: no plan, a file per pass with plain channel names, OpenEXR, PNG and TIFF, a still, a plate at
/// 23.976 frames a second, one frame rendered again, temporary files. The pictures are the stand-in renderer's.
/// </summary>
public static class OutsideDelivery
{
    /// <summary>Code of the shot.</summary>
    public const string Code = "KP040";

    private const int FrameRenderedAgain = 1006;
    private const string Plate = "seabed";

    /// <summary>Its frames.</summary>
    public static readonly FrameSet Frames = FrameSet.Range(1001, 1012);

    private static readonly FrameRate PlateRate = new(24000, 1001);

    /// <summary>Renders and writes it.</summary>
    /// <param name="folder">Where it is delivered.</param>
    /// <param name="source">A folder for what is rendered on the way; it may be deleted afterwards.</param>
    /// <param name="progress">Told of rendered frames, or null.</param>
    /// <param name="cancel">Stops.</param>
    /// <exception cref="IOException">The disk refuses.</exception>
    public static void Write(StoragePath folder, StoragePath source, IProgress<RenderProgress>? progress, CancellationToken cancel)
    {
        Plan plan = DemoPlan.Create(Code, Frames);
        StandInRenderer.Render(plan, source, null, [], progress, cancel);
        foreach (PlannedOutput output in PlannedOutput.From(plan))
        {
            foreach (int frame in output.Frames)
            {
                cancel.ThrowIfCancellationRequested();
                using ExrFile file = ExrFile.Open(source.At(output.Name.At(frame)), ReadLimits.Default.Exr);
                ExrImage image = ExrImage.Read(file, file.Parts[0], null, out _, cancel);
                foreach (PassPlan pass in output.Passes)
                {
                    Deliver(folder, output, pass, frame, image);
                }
            }
        }

        folder.At("sub/Thumbs.db").ReplaceText("");
        folder.At($"sub/{Code}_sub_beauty.1013.exr.tmp").ReplaceText("");
    }

    private static void Deliver(StoragePath folder, PlannedOutput output, PassPlan pass, int frame, ExrImage image)
    {
        PassDefinition? definition = output.Plan.Catalogue.Find(pass.Pass);
        string layer = output.Layer.Name,
            name = $"{layer}/{Code}_{layer}_{PassPlan.WordOf(pass.Pass)}.{frame}";
        float[][] planes = [.. pass.Channels.Keys.Select(c => image.Planes[c])];
        if (layer == Plate)
        {
            if (pass.Pass == PassKeys.Beauty)
            {
                Exr(folder.At($"plate/{Code}_plate.{frame}.exr"), image, planes[..3], ["R", "G", "B"], ChannelType.Half, PlateRate, null);
                if (frame == Frames.First)
                {
                    folder.At($"stills/{Code}_reference.png").Replace(s => s.Write(Encoded(image, planes[..3], ".png")), isLasting: false);
                }
            }
        }
        else if (definition?.Kind == PassKind.Modulate)
        {
            folder.At($"{name}.png").Replace(s => s.Write(Encoded(image, planes, ".png")), isLasting: false);
        }
        else if (definition?.Kind == PassKind.Mask)
        {
            folder.At($"{name}.tif").Replace(s => s.Write(Encoded(image, planes, ".tif")), isLasting: false);
        }
        else
        {
            string[] channels = definition?.Has(PassMeasures.Cryptomatte) == true ? [.. pass.Channels.Keys] : Plain(planes.Length);
            StoragePath file = folder.At($"{name}.exr");
            bool isAgain = frame == FrameRenderedAgain && pass.Pass == PassKeys.Beauty && layer == "sub";
            Exr(file, image, planes, channels, pass.Channels.Values.First(), null, isAgain ? "v002" : "v001");
        }
    }

    /// <summary>What programs that know no layers of channels call them.</summary>
    private static string[] Plain(int channels) =>
        channels switch
        {
            1 => ["Y"],
            2 => ["R", "G"],
            3 => ["R", "G", "B"],
            _ => ["R", "G", "B", "A"],
        };

    private static void Exr(
        StoragePath path,
        ExrImage like,
        float[][] planes,
        string[] channels,
        ChannelType type,
        FrameRate? rate,
        string? scene
    )
    {
        // The attributes of the renderer's own files go on, those of a sum or of Cryptomatte among them.
        IEnumerable<ExrAttribute> kept = like
            .Part.Attributes.Where(a => a.Name.Contains('/', StringComparison.Ordinal) || a.Name is "cameraLabel" or "framesPerSecond")
            .Where(a => rate is null || a.Name != "framesPerSecond");
        ExrAttribute[] added =
        [
            .. kept,
            .. rate is { } other ? [ExrAttribute.Rational("framesPerSecond", other)] : Array.Empty<ExrAttribute>(),
            .. scene is null ? [] : new[] { ExrAttribute.Text("sceneFile", $"{Code}_{scene}.scene") },
        ];
        var part = new ExrPart(
            [.. channels.Select(c => new ExrChannel(c, type.ToExr()))],
            like.Part.DisplayWindow,
            like.Part.DataWindow,
            ExrCompression.Find("zip")!,
            attributes: added
        );
        ExrWriter.Write(path, new ExrImage(part, channels.Zip(planes).ToImmutableDictionary(c => c.First, c => c.Second)));
    }

    /// <summary>A picture of 8 bits along the sRGB curve (IEC 61966-2-1), without alpha: one channel or three.</summary>
    private static byte[] Encoded(ExrImage like, float[][] planes, string extension)
    {
        int bands = planes.Length >= 3 ? 3 : 1;
        byte[] pixels = new byte[like.Width * like.Height * bands];
        for (int i = 0; i < like.Width * like.Height; i++)
        {
            for (int c = 0; c < bands; c++)
            {
                float value = Math.Clamp(planes[c][i], 0, 1);
                pixels[i * bands + c] = (byte)MathF.Round(255 * (float)SrgbCurve.Encode(value));
            }
        }

        using Image image = Image.NewFromMemory(pixels, like.Width, like.Height, bands, Enums.BandFormat.Uchar);
        return extension == ".png" ? image.PngsaveBuffer() : image.TiffsaveBuffer(compression: Enums.ForeignTiffCompression.Deflate);
    }
}
