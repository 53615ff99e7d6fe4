using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;

namespace DuneCrate.Web.Stations.Shared;

/// <summary>Answers about the pictures of a shot.</summary>
internal static class ShotAnswers
{
    /// <summary>Answers about a shot; what goes wrong with its files is a sentence.</summary>
    public static async Task<IResult> WithShot(
        HttpContext http,
        ShotViews views,
        string show,
        string shot,
        Func<ShotView, CancellationToken, Task<IResult>> answer
    )
    {
        CancellationToken cancel = http.RequestAborted;
        try
        {
            return await views.PictureViewAsync(show, shot, cancel) is { } view ? await answer(view, cancel) : Results.NotFound();
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            // Whoever asked has left.
            return Results.StatusCode(StatusCodes.Status499ClientClosedRequest);
        }
        catch (PicturesBusyException e)
        {
            http.Response.Headers.RetryAfter = "3";
            return Results.Problem(e.Message, statusCode: StatusCodes.Status503ServiceUnavailable);
        }
        catch (Exception e) when (e is OperationCanceledException or TimeoutException)
        {
            return Problem("reading it took too long and was given up");
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            return Problem(e is ImageException image ? image.Reason : $"the file {StorageException.ReasonOf(e)}");
        }
    }

    private static IResult Problem(string reason) => Results.Problem(reason, statusCode: StatusCodes.Status422UnprocessableEntity);

    /// <summary>A picture as PNG.</summary>
    public static async Task<IResult> PngAsync(
        PictureService pictures,
        long pixels,
        Func<Picture> make,
        int width,
        CancellationToken cancel
    ) => Results.Bytes(await pictures.PngAsync(pixels, make, Math.Clamp(width, 0, 8192), cancel), "image/png");
}
