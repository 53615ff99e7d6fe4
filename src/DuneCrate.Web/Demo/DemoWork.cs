using DuneCrate.Core.Planning;
using DuneCrate.StandIns.Demo;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Work;

namespace DuneCrate.Web.Demo;

/// <summary>Makes the demo show when it is not there: plans at once, frames as they render, a check of each shot when it is done.</summary>
public sealed class DemoWork(ServeOptions options, ShowStore store, CheckWork checks, ILogger<DemoWork> log) : BackgroundService
{
    /// <summary>Beside the frames of a shot: it has been rendered to the end.</summary>
    private const string DoneMark = ".rendered";

    private volatile string? _doing;

    /// <summary>What is being rendered, or null when everything is there.</summary>
    public string? Doing => _doing;

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        try
        {
            await store.AddShowAsync(new ShowRow { Code = "KELP", Name = "The Kelp Post", FrameRate = "24/1", Width = StandInPlan.Width, Height = StandInPlan.Height });
            foreach (DemoShot demo in DemoShow.Shots)
            {
                if (await store.AddShotAsync("KELP", demo.Plan) is { } added)
                {
                    await store.SetFolderAsync(added.Id, "renders", demo.Code);
                }
            }

            foreach (DemoShot demo in DemoShow.Shots)
            {
                await RenderAsync(demo, stoppingToken);
            }

            _doing = null;
        }
        catch (OperationCanceledException)
        {
            // The application ends; what is rendered stays, the rest is rendered at the next start.
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            log.LogError(e, "The demo show could not be rendered");
            _doing = $"The demo could not be rendered: {e.Message}";
        }
    }

    private async Task RenderAsync(DemoShot demo, CancellationToken cancel)
    {
        string folder = Path.Combine(options.Roots["renders"], demo.Code), mark = Path.Combine(folder, DoneMark);
        ShotRow shot = (await store.ShotAsync("KELP", demo.Code))!;
        if (!File.Exists(mark))
        {
            Directory.CreateDirectory(folder);
            await File.WriteAllTextAsync(Path.Combine(folder, "plan.json"), PlanDocument.Write(demo.Plan), cancel);
            _doing = $"rendering {demo.Code}";
            await store.NoteAsync(shot.Id, "rendering");
            await Task.Run(() => StandInRenderer.Render(demo.Plan, folder, demo.Rendered, demo.Faults, new Told(this, demo.Code), cancel), cancel);
            await File.WriteAllTextAsync(mark, "", cancel);
            await checks.AskAsync(shot.Id, pixels: true);
        }
        else if (await store.NewestCheckAsync(shot.Id) is null)
        {
            await checks.AskAsync(shot.Id, pixels: true);
        }
    }

    /// <summary>Says how far the rendering is.</summary>
    private sealed class Told(DemoWork work, string shot) : IProgress<RenderProgress>
    {
        public void Report(RenderProgress value) => work._doing = $"rendering {shot}, {100 * value.Done / value.Of} %";
    }
}
