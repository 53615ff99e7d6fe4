using System.Collections.Immutable;

namespace DuneCrate.Foundation.History;

/// <summary>What sorts of things a history tells of, with their names for people.</summary>
public static class HistoryKinds
{
    /// <summary>A plan was made or changed.</summary>
    public const string Planned = "planned";

    /// <summary>A check was asked for.</summary>
    public const string Checked = "checked";

    /// <summary>A finding was waived.</summary>
    public const string Waived = "waived";

    /// <summary>A waiver was taken back.</summary>
    public const string WaiverTakenBack = "waiver-taken-back";

    /// <summary>A finding was handed to somebody, or taken back.</summary>
    public const string FindingHanded = "finding-handed";

    /// <summary>Files were renamed, or given their names back.</summary>
    public const string Renamed = "renamed";

    /// <summary>A note was drawn, answered, settled or opened.</summary>
    public const string Noted = "noted";

    /// <summary>A test composite was changed or written.</summary>
    public const string Composited = "composited";

    /// <summary>A crate was asked for and sealed.</summary>
    public const string Sealed = "sealed";

    /// <summary>A crate was read back.</summary>
    public const string Verified = "verified";

    /// <summary>A crate was downloaded, or its slip.</summary>
    public const string Handed = "handed";

    /// <summary>A crate was accepted or sent back.</summary>
    public const string Answered = "answered";

    /// <summary>Somebody signed in or out, or could not.</summary>
    public const string SignedIn = "signed-in";

    /// <summary>A person, a role, a link or a token was changed.</summary>
    public const string People = "people";

    /// <summary>A show or shot was made, put away or deleted, or its settings changed.</summary>
    public const string Shows = "shows";

    /// <summary>The installation itself: keys, backups, what is kept.</summary>
    public const string Installation = "installation";

    /// <summary>Names for people, by kind.</summary>
    public static ImmutableSortedDictionary<string, string> Names { get; } =
        new Dictionary<string, string>
        {
            [Planned] = "plan",
            [Checked] = "check",
            [Waived] = "waiver",
            [WaiverTakenBack] = "waiver taken back",
            [FindingHanded] = "finding handed",
            [Renamed] = "names of files",
            [Noted] = "note",
            [Composited] = "test composite",
            [Sealed] = "seal",
            [Verified] = "read back",
            [Handed] = "crate fetched",
            [Answered] = "answer to a crate",
            [SignedIn] = "sign-in",
            [People] = "people",
            [Shows] = "shows",
            [Installation] = "installation",
        }.ToImmutableSortedDictionary(StringComparer.Ordinal);
}
