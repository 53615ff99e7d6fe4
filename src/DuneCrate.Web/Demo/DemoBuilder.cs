using DuneCrate.Checking;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Live;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Roots;
using DuneCrate.StandIns.Demo;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Demo;

/// <summary>Makes the demo show when it is not there: plans at once, frames as they render, a check of each shot when it is done.</summary>
public sealed class DemoBuilder(
    StorageRoots roots,
    ShowStore store,
    StackStore stackStore,
    CheckStore checkStore,
    FindingStore findingStore,
    PictureNoteStore pictureNoteStore,
    PlanStore plans,
    ShowFolderStore folders,
    PlanEditor editor,
    CheckQueue checks,
    DemoCrates crates,
    ShotEvents events,
    ReadLimits limits,
    TimeProvider clock,
    ILogger<DemoBuilder> log
) : BackgroundService
{
    /// <summary>Beside the folder of a shot, after its name: it has been rendered to the end.</summary>
    private const string DoneMark = ".rendered";

    private volatile string? _doing;

    /// <summary>What is being rendered, or null when everything is there.</summary>
    public string? Doing
    {
        get => _doing;
        private set
        {
            _doing = value;
            events.TellYard();
        }
    }

    /// <summary>Makes the show when it is not there.</summary>
    public Task MakeShowAsync() =>
        store.AddShowAsync(
            new ShowRow
            {
                Code = "KELP",
                Name = "The Kelp Post",
                FrameRate = "24/1",
                Width = StandInPlan.Width,
                Height = StandInPlan.Height,
            }
        );

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        try
        {
            await MakeShowAsync();
            ShowRow show = (await store.ShowNamesAsync(stoppingToken)).First(s => s.Code == "KELP");
            if (show.SettingsJson is null)
            {
                await plans.SaveShowAsync(show.Id, DemoShow.Shots[0].Plan.Show, show.FrameRate, show.Width, show.Height);
            }

            await folders.GrantAsync(show.Id, "renders", "", cancel: stoppingToken);
            foreach (DemoShot demo in DemoShow.Shots)
            {
                if (await store.AddShotAsync("KELP", demo.Plan) is { } added)
                {
                    await store.SetFolderAsync(added.Id, "renders", demo.Code);
                }
            }

            if (await store.AddShotAsync("KELP", UnplannedShot()) is { } delivered)
            {
                await store.SetFolderAsync(delivered.Id, "renders", OutsideDelivery.Code);
            }

            await RenderTestFrameAsync(DemoShow.Shots[0], stoppingToken);
            foreach (DemoShot demo in DemoShow.Shots)
            {
                await RenderAsync(demo, stoppingToken);
            }

            await DeliverAsync(stoppingToken);

            Doing = "sealing crates";
            await crates.MakeAsync(stoppingToken);
            Doing = null;
        }
        catch (OperationCanceledException)
        {
            // The application ends; what is rendered stays, the rest is rendered at the next start.
        }
        catch (Exception e)
        {
            log.LogError(e, "The demo show could not be rendered");
            Doing = Failures.Words("The demo could not be rendered", e);
        }
    }

    private async Task RenderAsync(DemoShot demo, CancellationToken cancel)
    {
        StoragePath folder = FolderOf(demo.Code),
            mark = MarkOf(folder);
        ShotRow shot = (await store.ShotAsync("KELP", demo.Code))!;
        if (!mark.IsFile)
        {
            folder.At("plan.json").ReplaceText(PlanDocument.Write(demo.Plan));
            Doing = $"rendering {demo.Code}";
            await store.NoteAsync(shot.Id, "rendering");
            await Task.Run(
                () => StandInRenderer.Render(demo.Plan, folder, demo.Rendered, demo.Faults, new Reporter(this, demo.Code), cancel),
                cancel
            );
            await HandAsync(shot);
            await RenderEarlierAsync(demo, shot, cancel);
            if (demo.Code == DemoStack.Shot && (await stackStore.StacksAsync(shot.Id, cancel)).Count == 0)
            {
                await stackStore.AddStackAsync(shot.Id, DemoStack.Name, DemoStack.Make(demo.Plan), cancel);
            }

            mark.ReplaceText("");
            await checks.AskAsync(shot.Id, pixels: true);
        }
        else if (await checkStore.NewestCheckAsync(shot.Id) is null)
        {
            await checks.AskAsync(shot.Id, pixels: true);
        }
    }

    /// <summary>The shot of another house comes without a plan.</summary>
    private static Plan UnplannedShot()
    {
        Plan like = DemoShow.Shots[0].Plan;
        return like with
        {
            Shot = like.Shot with { Code = OutsideDelivery.Code, Frames = OutsideDelivery.Frames, TestFrame = null },
            Scene = null,
            Layers = [],
        };
    }

    private async Task DeliverAsync(CancellationToken cancel)
    {
        StoragePath folder = FolderOf(OutsideDelivery.Code),
            source = FolderOf(".delivery"),
            mark = MarkOf(folder);
        ShotRow shot = (await store.ShotAsync("KELP", OutsideDelivery.Code))!;
        if (!mark.IsFile)
        {
            Doing = $"rendering {OutsideDelivery.Code}";
            await store.NoteAsync(shot.Id, "delivered by another house");
            await Task.Run(() => OutsideDelivery.Write(folder, source, new Reporter(this, OutsideDelivery.Code), cancel), cancel);
            source.DeleteFolder();
            mark.ReplaceText("");
        }

        if (await checkStore.NewestCheckAsync(shot.Id) is null)
        {
            await checks.AskAsync(shot.Id, pixels: true);
        }
    }

    /// <summary>The mark of a folder. Earlier versions put it among the frames.</summary>
    private StoragePath MarkOf(StoragePath folder)
    {
        StoragePath mark = FolderOf($".{folder.Name}{DoneMark}"),
            former = folder.At(DoneMark);
        if (former.IsFile)
        {
            mark.ReplaceText("");
            former.Delete();
        }

        return mark;
    }

    private StoragePath FolderOf(string name) => roots.Place("renders", name).Path!;

    /// <summary>One finding of the shot with trouble is in somebody's hands.</summary>
    private async Task HandAsync(ShotRow shot)
    {
        var note = new FindingNote(
            "pixels.nonfinite",
            "sub/KP020_sub.####.exr",
            "beauty",
            "lighting",
            "demo",
            "same lamp as yesterday; is it inside the glass?",
            clock.UtcNow
        );
        if (shot.Code == "KP020" && (await findingStore.NotesAsync(shot.Id)).Count == 0)
        {
            await findingStore.HandAsync(shot.Id, [note], []);
        }
    }

    /// <summary>The shot with trouble has an earlier version of one layer beside it, and notes on its pictures.</summary>
    private async Task RenderEarlierAsync(DemoShot demo, ShotRow shot, CancellationToken cancel)
    {
        if (demo.Code != DemoNotes.Shot)
        {
            return;
        }

        Doing = $"rendering an earlier version of {demo.Code}";
        Plan earlier = demo.Plan with { Layers = demo.Plan.Layers.RemoveAll(l => l.Name != DemoNotes.EarlierLayer) };
        await Task.Run(
            () =>
                StandInRenderer.Render(
                    earlier,
                    FolderOf(DemoNotes.EarlierFolder),
                    DemoNotes.EarlierFrames,
                    DemoNotes.EarlierFaults,
                    null,
                    cancel
                ),
            cancel
        );
        if ((await pictureNoteStore.PictureNotesAsync(shot.Id, cancel)).Count == 0)
        {
            foreach (PictureNote note in DemoNotes.All)
            {
                await pictureNoteStore.AddPictureNoteAsync(shot.Id, note, cancel: cancel);
            }
        }
    }

    /// <summary>Renders the test frame of a shot beside it and notes what it came to.</summary>
    private async Task RenderTestFrameAsync(DemoShot demo, CancellationToken cancel)
    {
        StoragePath folder = FolderOf(demo.Code + "_test"),
            mark = MarkOf(folder);
        if (mark.IsFile)
        {
            return;
        }

        Doing = $"rendering the test frame of {demo.Code}";
        ShotRow shot = (await store.ShotAsync("KELP", demo.Code))!;
        var demoEditor = new Editor("demo", "demo");
        await editor.EditAsync(shot.Id, shot.Revision, new SetTestFrame(demo.Plan.Shot.Frames.Last, 0.5), demoEditor);
        await Task.Run(
            () =>
                StandInRenderer.Render(TestFrameCheck.PlanFor(demo.Plan, demo.Plan.Shot.Frames.Last, 0.5), folder, null, [], null, cancel),
            cancel
        );
        shot = (await store.ShotAsync("KELP", demo.Code))!;
        Plan chosen = demo.Plan with
        {
            Shot = demo.Plan.Shot with
            {
                TestFrame = new TestFrame { Frame = demo.Plan.Shot.Frames.Last, Scale = 0.5 },
            },
        };
        var request = new CheckRequest
        {
            Folder = folder,
            Plan = chosen,
            Depth = FactsDepth.Pixels,
            Cache = new NoFactsCache(),
            Limits = limits,
        };
        (_, SetTestFrame measured) = await Task.Run(() => TestFrameCheck.Run(request, cancel), cancel);
        await editor.EditAsync(shot.Id, shot.Revision, measured, demoEditor);
        mark.ReplaceText("");
    }

    /// <summary>Says how far the rendering is.</summary>
    private sealed class Reporter(DemoBuilder work, string shot) : IProgress<RenderProgress>
    {
        public void Report(RenderProgress value) => work.Doing = $"rendering {shot}, {100 * value.Done / value.Total} %";
    }
}
