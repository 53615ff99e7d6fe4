using System.CommandLine;
using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Commands;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Cli.Verbs;

/// <summary><c>dune picture FILE --to OUT.png</c></summary>
internal static class PictureVerb
{
    private const double MostStops = 64;

    public static Command Create()
    {
        var file = new Argument<string>("FILE") { Description = "A picture: OpenEXR, PNG, TIFF, JPEG or TGA" };
        var to = new Option<string>("--to") { Description = "The PNG to write", Required = true };
        var pass = new Option<string?>("--pass") { Description = "A pass by key or alias; the beauty, or the first there is, without it" };
        var channels = new Option<string?>("--channels")
        {
            Description = "A,B,C: channels by name for red, green and blue; one alone is grey",
        };
        var part = new Option<int?>("--part") { Description = "A part of a multi-part file, from 0" };
        var exposure = new Option<double>("--exposure") { Description = "Stops" };
        var gamma = new Option<double>("--gamma")
        {
            Description = "The display's value is raised to 1 / gamma",
            DefaultValueFactory = _ => 1,
        };
        var view = new Option<string?>("--view") { Description = "srgb, rec709, log or plain" };
        var near = new Option<double?>("--near") { Description = "The value shown black, without a view" };
        var far = new Option<double?>("--far") { Description = "The value shown white, without a view" };
        var ground = new Option<string>("--ground") { Description = "black, grey or checker", DefaultValueFactory = _ => "black" };
        var box = new Option<string?>("--box") { Description = "X,Y,W,H in pixels of the display window" };
        var verb = new Command("picture", "One picture for people, as the viewer shows it.")
        {
            file,
            to,
            pass,
            channels,
            part,
            exposure,
            gamma,
            view,
            near,
            far,
            ground,
            box,
        };
        verb.SetAction(
            (parsed, cancel) =>
                Task.FromResult(
                    Outcome.Run(() =>
                    {
                        var settings = new PictureSettings
                        {
                            Exposure = Within(parsed.GetValue(exposure), -MostStops, MostStops, "--exposure", "stops"),
                            Gamma = Within(parsed.GetValue(gamma), 0.01, 100, "--gamma", ""),
                            View = View(parsed.GetValue(view)),
                            Near = Finite(parsed.GetValue(near), "--near"),
                            Far = Finite(parsed.GetValue(far), "--far"),
                            Ground = Ground(parsed.GetRequiredValue(ground)),
                        };
                        string? wanted = parsed.GetValue(channels);
                        return parsed.GetValue(pass) is not null && wanted is not null
                            ? throw new FormatException("Give --pass or --channels, not both.")
                            : Run(
                                parsed.GetRequiredValue(file),
                                parsed.GetRequiredValue(to),
                                parsed.GetValue(pass),
                                wanted?.Split(',', StringSplitOptions.TrimEntries) ?? [],
                                parsed.GetValue(part),
                                parsed.GetValue(box),
                                settings,
                                cancel
                            );
                    })
                )
        );
        return verb;
    }

    private static int Run(
        string path,
        string to,
        string? pass,
        string[] channels,
        int? part,
        string? box,
        PictureSettings settings,
        CancellationToken cancel
    )
    {
        if (!to.EndsWith(".png", StringComparison.OrdinalIgnoreCase))
        {
            throw new FormatException($"{to}: a picture is written as PNG; end the name in .png.");
        }

        if (channels.Length is 2 or > 3)
        {
            throw new FormatException("Name one channel, or three for red, green and blue: --channels R,G,B.");
        }

        ReadLimits limits = Shared.Limits();
        IntakeFile file = FolderListing.OfFile(Shared.File(path, "picture"), Path.GetFileName(path))!;
        FileFacts facts = FactsReader.Read(file, new FactsRequest(FactsDepth.Header), limits, cancel);
        if (!facts.Readable)
        {
            throw new FormatException($"{path} cannot be read: {facts.Problem}.");
        }

        PassCatalogue catalogue = PassCatalogue.Shipped;
        var choice = PassChoice.Find(facts, catalogue, pass, channels, part);
        PartFacts header = facts.Parts.FirstOrDefault(p => p.Channels.Any(c => c.Name == choice.Channels[0]), facts.Parts[0]);
        PixelBox shown = Box(box, header.DisplayWindow);
        PassPixels pixels = choice.Read(file, catalogue, limits, cancel).On(shown);
        Picture picture = PictureMaker.Render(pixels, settings with { Primaries = Primaries.From(header.Chromaticities) });
        byte[] png = picture.ToPng();
        Shared.Whole(to, file => file.Write(png));
        if (pixels.Problem is { } lost)
        {
            Terminal.Tell($"dune: {path} is damaged: {lost}; what is lost is hatched.");
        }

        return Outcome.Done;
    }

    /// <summary>A box within the display window; the whole of it without one.</summary>
    private static PixelBox Box(string? text, PixelBox display)
    {
        if (text is null)
        {
            return display;
        }

        int[] numbers =
        [
            .. text.Split(',').Select(t => int.TryParse(t.Trim(), CultureInfo.InvariantCulture, out int n) ? n : int.MinValue),
        ];
        if (numbers.Length != 4 || numbers.Contains(int.MinValue) || numbers[2] < 1 || numbers[3] < 1)
        {
            throw new FormatException($"'{text}' is no box; write --box X,Y,W,H in pixels.");
        }

        long right = (long)display.MinX + numbers[0] + numbers[2] - 1,
            bottom = (long)display.MinY + numbers[1] + numbers[3] - 1;
        return numbers[0] < 0 || numbers[1] < 0 || right > display.MaxX || bottom > display.MaxY
            ? throw new FormatException($"The box {text} lies outside the picture of {display.Width} × {display.Height} pixels.")
            : new PixelBox(display.MinX + numbers[0], display.MinY + numbers[1], (int)right, (int)bottom);
    }

    private static PictureView? View(string? text) =>
        text is null ? null : ViewCurve.Find(text) ?? throw new FormatException($"'{text}' is no view; use srgb, rec709, log or plain.");

    private static PictureGround Ground(string text) =>
        Enum.GetValues<PictureGround>().Where(g => g.ToString().ToLowerInvariant() == text).Select(g => (PictureGround?)g).FirstOrDefault()
        ?? throw new FormatException($"'{text}' is no ground; use black, grey or checker.");

    private static double Within(double value, double least, double most, string option, string unit) =>
        value >= least && value <= most
            ? value
            : throw new FormatException(
                string.Create(CultureInfo.InvariantCulture, $"{option} takes {least} to {most} {unit}").TrimEnd() + "."
            );

    private static double? Finite(double? value, string option) =>
        value is null || double.IsFinite(value.Value) ? value : throw new FormatException($"{option} takes a number.");
}
