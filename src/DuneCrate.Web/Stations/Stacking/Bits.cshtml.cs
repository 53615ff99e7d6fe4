using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Exr;
using DuneCrate.Imaging.Pictures.Precision;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Stacking;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>A pass as it would be in fewer bits, after a grade: what is left of its levels, and where bands show.</summary>
public sealed class BitsModel(ShotViews views, BitsPictures bits) : ShotPage(views)
{
    /// <inheritdoc/>
    public override string Station => "Stack";

    /// <summary>Stops that it is raised by.</summary>
    [BindProperty(SupportsGet = true)]
    public double Exposure { get; set; } = 2;

    /// <summary>Gamma of the grade.</summary>
    [BindProperty(SupportsGet = true)]
    public double Gamma { get; set; } = 1;

    /// <summary>Each way of storing it; empty where the pass is none of colour or has not come.</summary>
    public ImmutableArray<PrecisionLesson> Lessons { get; private set; } = [];

    /// <summary>Why there is nothing to see, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>The pass in words.</summary>
    public string PassName => View.Plan.Catalogue.Find(View.Selected.Pass ?? "")?.TradeName ?? View.Selected.Pass ?? "";

    /// <summary>What a compositor is told.</summary>
    public string? Sentence =>
        Lessons.FirstOrDefault(l => l.Stored == StoredAs.EightBit) is { } eight
        && Lessons.FirstOrDefault(l => l.Stored == StoredAs.Half) is { } half
            ? $"{PassName}: {eight.Sentence}, half leaves {half.Shadows.Min()}; "
                + (
                    eight.Clipped > 0
                        ? string.Create(
                            CultureInfo.InvariantCulture,
                            $"and light above 1 is gone in {100 * eight.Clipped:0.##} % of the picture."
                        )
                        : "no light lies above 1."
                )
            : null;

    /// <summary>Address of a picture.</summary>
    public string Picture(PrecisionLesson lesson, string what) =>
        $"/{View.Row.Show.Code}/{View.Row.Code}/stack/bits.png?layer={Uri.EscapeDataString(View.Selected.Layer ?? "")}"
        + $"&pass={Uri.EscapeDataString(View.Selected.Pass ?? "")}"
        + string.Create(
            CultureInfo.InvariantCulture,
            $"&frame={View.Selected.Frame}&stored={lesson.Stored}&what={what}&exposure={Exposure}&gamma={Gamma}"
        );

    /// <summary>Shows the page.</summary>
    public async Task OnGetAsync(CancellationToken cancel)
    {
        (Exposure, Gamma) = (BitsPictures.Stops(Exposure), BitsPictures.Gammas(Gamma));
        if (View.Selected is not { Layer: { } layer, Pass: { } pass, Frame: { } frame } || View.Folder is null)
        {
            return;
        }

        try
        {
            foreach (StoredAs stored in Enum.GetValues<StoredAs>())
            {
                if (await bits.LessonAsync(View, new PictureAddress(layer, pass, frame), stored, Exposure, Gamma, cancel) is { } lesson)
                {
                    Lessons = Lessons.Add(lesson);
                }
            }

            Said = Lessons.IsEmpty ? NotSeen(pass) : null;
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException or PicturesBusyException)
        {
            Said = e is ImageException image ? $"It cannot be read: {image.Reason}." : e.Message;
        }
    }

    private string NotSeen(string pass) =>
        View.Plan.Catalogue.Find(pass) is { IsColour: false }
            ? $"{PassName} is no colour: it is never graded, and needs the bits that the plan gives it. Choose a pass of light."
            : $"{PassName} has not come at frame {View.Selected.Frame}.";
}
