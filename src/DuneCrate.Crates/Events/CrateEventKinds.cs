namespace DuneCrate.Crates.Events;

/// <summary>What is done with crates, as their histories call it.</summary>
public static class CrateEventKinds
{
    /// <summary>Every pixel was checked.</summary>
    public const string Checked = "checked";

    /// <summary>It was sealed.</summary>
    public const string Made = "made";

    /// <summary>It was read back.</summary>
    public const string Verified = "verified";

    /// <summary>It was given to somebody.</summary>
    public const string Handed = "handed";

    /// <summary>It has arrived, and its checksums hold there.</summary>
    public const string Received = "received";

    /// <summary>Its receiver works with it.</summary>
    public const string Accepted = "accepted";

    /// <summary>Its receiver wants something done again.</summary>
    public const string SentBack = "sent back";

    /// <summary>A newer one takes its place.</summary>
    public const string Superseded = "superseded";
}
