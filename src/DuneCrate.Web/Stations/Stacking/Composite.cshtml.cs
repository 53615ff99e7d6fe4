using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Exr;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Stacking;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>The test composite of a shot: its strips as strata, the picture beside them.</summary>
public sealed class CompositeModel(
    ShotViews views,
    StackStore stackStore,
    ShowFolderStore folders,
    StackSources sources,
    StackPictures pictures,
    CompositeQueue queue
) : ShotPage(views)
{
    private const int MostStacks = 50,
        MostStrips = 100;

    /// <summary>Samples across of the picture; what is said of it is found in the same.</summary>
    public const int PictureWidth = 960;

    /// <inheritdoc/>
    public override string Station => "Stack";

    /// <summary>Key of the stack in the address.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Stack { get; set; }

    /// <summary>The chosen strip, from 0 at the bottom.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Strip { get; set; }

    /// <summary>The line that strata are cut at, in pixels from the top.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Row { get; set; }

    /// <summary>The stacks of the shot.</summary>
    public IReadOnlyList<KeptStack> Stacks { get; private set; } = [];

    /// <summary>The stack that is seen; null without one.</summary>
    public KeptStack? Kept { get; private set; }

    /// <summary>The chosen strip; null without a stack.</summary>
    public StackStrip? Chosen => Kept is null ? null : Kept.Recipe.Strips[ChosenAt];

    /// <summary>Its place from the bottom.</summary>
    public int ChosenAt =>
        Kept is null
            ? 0
            : Math.Clamp(Strip ?? Array.FindLastIndex(Kept.Recipe.Strips, s => s.Opacity > 0), 0, Kept.Recipe.Strips.Length - 1);

    /// <summary>The line that strata are cut at.</summary>
    public int CutAt => Kept is null ? 0 : Math.Clamp(Row ?? Kept.Recipe.Height / 2, 0, Kept.Recipe.Height - 1);

    /// <summary>What is said where there is no stack yet.</summary>
    public string Invitation =>
        View.Folder is null
            ? "Choose the folder with the frames on the Receive station."
            : "A stack is proposed from the plan: far layers first, shadows under what casts them, masks and occlusion ready at 0. "
                + "Change it as you like; the files stay as they are.";

    /// <summary>What is wrong with what was asked, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>What the composite does that may not be meant.</summary>
    public IReadOnlyList<(string Strip, string Words)> Advice { get; private set; } = [];

    /// <summary>What was left out at this frame.</summary>
    public IReadOnlyList<string> Problems { get; private set; } = [];

    /// <summary>What can weigh the chosen strip.</summary>
    public ImmutableArray<(StackSources.Choice Choice, StackMask Mask)> Masks { get; private set; } = [];

    /// <summary>Sequences in the folder that was named.</summary>
    public ImmutableArray<StackSources.Choice> Plates { get; private set; } = [];

    /// <summary>Names of the storage roots.</summary>
    public IEnumerable<string> Roots => View.Ground.Names(Visitor.IsKeeper);

    /// <summary>What was written of the shot.</summary>
    public IReadOnlyList<WrittenComposite> Written => field ??= queue.Written(View);

    /// <summary>Progress of what is being written, or null.</summary>
    public JobProgress? Writing => Kept is null ? null : queue.Live.GetValueOrDefault(Kept.Id);

    /// <summary>Why the last writing came to nothing, or null.</summary>
    public string? Failure => Kept is null ? null : queue.FailureOf(Kept.Id);

    /// <summary>Address of this page with another strip or line.</summary>
    public string At(int? strip = null, int? row = null) =>
        View.Href("stack/composite")
        + string.Create(CultureInfo.InvariantCulture, $"&stack={Kept?.Id}&strip={strip ?? ChosenAt}&row={row ?? CutAt}");

    /// <summary>Address of a picture of the stack at the frame.</summary>
    public string Picture(string file, string more) =>
        $"/{View.Row.Show.Code}/{View.Row.Code}/stack/{file}?"
        + string.Create(CultureInfo.InvariantCulture, $"stack={Kept?.Id}&frame={View.Selected.Frame}&revision={Kept?.Revision}{more}");

    /// <summary>The mask of a strip in words; null without one.</summary>
    public static string? MaskWords(StackStrip strip) =>
        strip.Mask is not { } mask
            ? null
            : (mask.Invert ? "all but " : "")
                + (mask.Named ?? (mask.Id is { } id ? string.Create(CultureInfo.InvariantCulture, $"id {id}") : mask.Channel));

    /// <summary>Whether a mask is the one that the chosen strip has.</summary>
    public bool IsMask(StackMask mask) => Chosen?.Mask is { } own && own with { Invert = false } == mask;

    /// <summary>Shows the page.</summary>
    public Task OnGetAsync(CancellationToken cancel) => ShowAsync(cancel);

    /// <summary>What the composite does at the frame that may not be meant, and what is left out of it.</summary>
    public async Task<IActionResult> OnGetAdviceAsync(CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        if (Kept is null || View.Selected.Frame is not { } frame)
        {
            return Partial("_Advice", this);
        }

        try
        {
            StackPictures.Made made = await pictures.MakeAsync(View, Kept.Recipe, frame, PictureWidth, cancel);
            Problems = made.Frame.Problems;
            Advice =
            [
                .. StackAdvice
                    .OfRanges(Kept.Recipe, strip => sources.FramesOf(View, strip))
                    .Concat(StackAdvice.OfPixels(made.Strips))
                    .GroupBy(a => a.Words, a => a.Strip)
                    .Select(g => (Words.List(g), g.Key)),
            ];
        }
        catch (Exception e) when (e is ImageException or PicturesBusyException)
        {
            Problems = [e is ImageException image ? image.Reason : e.Message];
        }

        return Partial("_Advice", this);
    }

    /// <summary>The sequences of a folder, to be laid in as plates.</summary>
    public async Task<IActionResult> OnGetPlatesAsync(string? root, string? folder, CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        Plates = sources.Plates(View, root, folder, Visitor.IsKeeper, out string? problem);
        Said = problem ?? (Plates.IsEmpty ? "No pictures lie in that folder." : null);
        return Partial("_Plates", this);
    }

    /// <summary>How far the writing is.</summary>
    public async Task<IActionResult> OnGetWrittenAsync(CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        return Partial("_Written", this);
    }

    /// <summary>Begins a stack from the plan, or from the one that is seen.</summary>
    public async Task<IActionResult> OnPostNewAsync(bool copy, CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        StackRecipe? recipe =
            copy && Kept is not null ? Kept.Recipe
            : View.Folder is null ? null
            : sources.Propose(View);
        if (Stacks.Count >= MostStacks)
        {
            Said = $"A shot keeps {MostStacks} stacks; throw one away first.";
        }
        else if (recipe is null)
        {
            Said = "Nothing of the plan is there to be stacked: no beauty, shadow or occlusion has files.";
        }
        else
        {
            Stack = await stackStore.AddStackAsync(
                View.Row.Id,
                copy && Kept is not null ? $"{Kept.Name} copy" : "composite",
                recipe,
                cancel
            );
            Strip = null;
        }

        return await AnswerAsync(cancel);
    }

    /// <summary>Changes the chosen strip by the form beside it.</summary>
    public Task<IActionResult> OnPostSetAsync(StripForm form, CancellationToken cancel) =>
        ChangeAsync(
            form.Revision,
            recipe => recipe.Changed(ChosenAt, strip => form.Put(strip, form.Mask is null ? strip.Mask : sources.MaskOf(View, form.Mask))),
            cancel
        );

    /// <summary>Moves a strip.</summary>
    public Task<IActionResult> OnPostMoveAsync(int revision, int from, int to, CancellationToken cancel)
    {
        Strip = Math.Max(0, to);
        return ChangeAsync(revision, recipe => recipe.Moved(from, to), cancel);
    }

    /// <summary>Takes a strip out.</summary>
    public Task<IActionResult> OnPostRemoveAsync(int revision, int at, CancellationToken cancel)
    {
        Strip = Math.Max(0, at - 1);
        return ChangeAsync(revision, recipe => recipe.Without(at), cancel);
    }

    /// <summary>Lays a pass or a look in above the chosen strip.</summary>
    public async Task<IActionResult> OnPostAddAsync(int revision, string? source, string? plate, CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        int at = ChosenAt + 1;
        StackStrip? strip;
        try
        {
            strip = plate is { Length: > 0 } ? sources.PlateOf(View, plate, Visitor.IsKeeper) : sources.StripOf(View, source ?? "");
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            Said = e is ImageException image ? $"{image.Path}: {image.Reason}." : Failures.Words("The plate cannot be read", e);
            return await AnswerAsync(cancel);
        }

        if (strip?.Root is { } root && Visitor.IsKeeper)
        {
            // What a keeper lays in belongs to the show.
            string folder = strip.Source.Contains('/', StringComparison.Ordinal) ? strip.Source[..strip.Source.LastIndexOf('/')] : "";
            if (await folders.GrantAsync(View.Row.ShowId, root, folder, cancel: cancel))
            {
                await LoadAsync(cancel);
            }
        }

        if (strip is null || Kept is null || Kept.Recipe.Strips.Length >= MostStrips)
        {
            Said = strip is null ? "That pass has no files yet, or will not serve for it." : $"A stack has at most {MostStrips} strips.";
            return await AnswerAsync(cancel);
        }

        Strip = at;
        return await ChangeAsync(revision, recipe => recipe.With(strip, at), cancel);
    }

    /// <summary>Undoes or does again.</summary>
    public async Task<IActionResult> OnPostStepAsync(int revision, bool undo, CancellationToken cancel)
    {
        if (Stack is { } id && !await stackStore.StepStackAsync(View.Row.Id, id, revision, undo, cancel))
        {
            Said = undo ? "There is nothing to undo." : "There is nothing to do again.";
        }

        return await AnswerAsync(cancel);
    }

    /// <summary>Gives the stack another name.</summary>
    public async Task<IActionResult> OnPostRenameAsync(string? name, CancellationToken cancel)
    {
        Said = string.IsNullOrWhiteSpace(name) ? "A stack needs a name." : TextLimits.Problem("The name", name);
        if (Said is null && Stack is { } id && !await stackStore.RenameStackAsync(View.Row.Id, id, name!.Trim(), cancel))
        {
            Said = $"Another stack is called {name!.Trim()}.";
        }

        return await AnswerAsync(cancel);
    }

    /// <summary>Throws the stack away.</summary>
    public async Task<IActionResult> OnPostDeleteAsync(CancellationToken cancel)
    {
        if (Stack is { } id)
        {
            AuditEvent audited = this.Audited(HistoryKinds.Composited, $"stack {id}", "kept", "thrown away");
            await stackStore.DeleteStackAsync(View.Row.Id, id, audited, cancel);
            Stack = null;
        }

        return await AnswerAsync(cancel);
    }

    /// <summary>Writes the range.</summary>
    public async Task<IActionResult> OnPostWriteAsync(bool png, CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        if (Kept is not null)
        {
            await queue.WriteAsync(View, Kept, png);
            await this.AuditAsync(HistoryKinds.Composited, Kept.Name, null, png ? "range written as PNG" : "range written as OpenEXR");
        }

        return Partial("_Written", this);
    }

    /// <summary>Stops the writing.</summary>
    public async Task<IActionResult> OnPostStopAsync(CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        if (Kept is not null)
        {
            queue.Stop(Kept.Id);
        }

        return Partial("_Written", this);
    }

    /// <summary>Throws away what was written.</summary>
    public async Task<IActionResult> OnPostDiscardAsync(string name, CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        queue.Delete(View, name);
        return Partial("_Written", this);
    }

    private async Task<IActionResult> ChangeAsync(int revision, Func<StackRecipe, StackRecipe> change, CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        if (Kept is null)
        {
            Said = "That stack is not there any more.";
            return await AnswerAsync(cancel);
        }

        StackRecipe changed = change(Kept.Recipe);
        if (changed.Problem is { } wrong)
        {
            Said = char.ToUpperInvariant(wrong[0]) + wrong[1..] + ".";
        }
        else if (!await stackStore.ChangeStackAsync(View.Row.Id, Kept.Id, revision, changed, cancel))
        {
            Said = "Somebody else has changed the stack meanwhile; this is how it is now.";
        }

        return await AnswerAsync(cancel);
    }

    private async Task LoadStacksAsync(CancellationToken cancel)
    {
        Stacks = await stackStore.StacksAsync(View.Row.Id, cancel);
        Kept = Stacks.FirstOrDefault(s => s.Id == Stack) ?? (Stack is null ? Stacks.FirstOrDefault() : null);
        Stack = Kept?.Id;
    }

    private async Task ShowAsync(CancellationToken cancel)
    {
        await LoadStacksAsync(cancel);
        if (Kept is not null)
        {
            Masks = await sources.MasksAsync(View, cancel);
        }
    }

    /// <summary>The work area alone for a script, the page for anybody else.</summary>
    private async Task<IActionResult> AnswerAsync(CancellationToken cancel)
    {
        await ShowAsync(cancel);
        return Request.Headers.ContainsKey("HX-Request") ? Partial("_Composite", this) : Page();
    }
}
