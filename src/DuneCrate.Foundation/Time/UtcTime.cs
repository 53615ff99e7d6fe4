namespace DuneCrate.Foundation.Time;

/// <summary>The time as rows and documents hold it.</summary>
public static class UtcTime
{
    extension(TimeProvider clock)
    {
        /// <summary>Now, UTC.</summary>
        public DateTime UtcNow => clock.GetUtcNow().UtcDateTime;
    }
}
