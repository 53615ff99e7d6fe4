namespace DuneCrate.Shots.Jobs;

/// <summary>Work beside the pages.</summary>
public static class Background
{
    /// <summary>
    /// Does one piece of work. What it throws is logged and goes no further: one failure, such as a full disk under the database, must not
    /// end the application.
    /// </summary>
    public static async Task DoAsync(ILogger log, string what, Func<Task> work, CancellationToken ending)
    {
        try
        {
            await work();
        }
        catch (Exception e) when (!ending.IsCancellationRequested)
        {
            log.LogError(e, "Could not {What}", what);
        }
    }
}
