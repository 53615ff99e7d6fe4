using System.Globalization;
using System.IO.Hashing;
using System.Text;

namespace DuneCrate.Engine;

/// <summary>
/// Names of streams, consumers and subjects. Each site, a server or one run of the command line, has its own, so that two on one engine
/// never take each other's results.
/// </summary>
/// <param name="Site">Letters, digits and hyphens.</param>
public sealed record EngineNames(string Site)
{
    private const string Before = "DUNE_",
        WorkEnd = "_WORK",
        Passing = "check-";

    /// <summary>Reported by workers and asked by servers: nothing of it is stored.</summary>
    public const string AnyStop = "dune.*.stop";

    /// <summary>The stream of work.</summary>
    public string Work => $"{Before}{Site}{WorkEnd}";

    /// <summary>The stream of results.</summary>
    public string Facts => $"{Before}{Site}_FACTS";

    /// <summary>The stream of what the engine says about work that was given up.</summary>
    public string Advice => $"{Before}{Site}_ADVICE";

    /// <summary>All work.</summary>
    public string AllWork => $"dune.{Site}.work.>";

    /// <summary>All results.</summary>
    public string AllFacts => $"dune.{Site}.facts.>";

    /// <summary>What the engine says about work that was given up.</summary>
    public string AllAdvice => $"$JS.EVENT.ADVISORY.CONSUMER.MAX_DELIVERIES.{Work}.>";

    /// <summary>On <see cref="Stop"/>: a run has begun, so that there may be queues that were not there.</summary>
    public const string NewRun = "";

    /// <summary>On <see cref="Stop"/>: work was given out.</summary>
    public const string NewWork = "*";

    /// <summary>Tells workers which run has stopped, or that there is news of work.</summary>
    public string Stop => $"dune.{Site}.stop";

    /// <summary>What all workers say of themselves.</summary>
    public string AllProgress => $"dune.{Site}.progress.>";

    /// <summary>What one worker says of itself.</summary>
    public string Progress(string worker) => $"dune.{Site}.progress.{worker}";

    /// <summary>A piece of work.</summary>
    public string WorkOf(WorkKind kind, string root, string run, string piece) =>
        $"dune.{Site}.work.{Word(kind)}.{Token(root)}.{run}.{piece}";

    /// <summary>All work of a kind on a root.</summary>
    public string WorkOf(WorkKind kind, string root) => $"dune.{Site}.work.{Word(kind)}.{Token(root)}.>";

    /// <summary>All work of a run.</summary>
    public string WorkOf(string run) => $"dune.{Site}.work.*.*.{run}.>";

    /// <summary>The result of a piece of work. One of an earlier time, whose token holds no more, does not stand in the way of
    /// it.</summary>
    public string FactsOf(string run, string piece, string token) => $"dune.{Site}.facts.{run}.{piece}.{Hash(token)}";

    /// <summary>What a program's own answers begin with: nobody else may hear them.</summary>
    /// <param name="user">Whom the engine knows it as.</param>
    public static string Inbox(string? site, string user) => $"_INBOX.{site ?? "any"}.{Token(user)}";

    /// <summary>The consumer of a kind of work on a root.</summary>
    public static string Consumer(WorkKind kind, string root) => $"{Word(kind)}-{Token(root)}";

    /// <summary>The kind in names.</summary>
    public static string Word(WorkKind kind) => kind.ToString().ToLowerInvariant();

    /// <summary>The site of a stream of work, or null.</summary>
    public static string? SiteOf(string stream) =>
        stream.StartsWith(Before, StringComparison.Ordinal) && stream.EndsWith(WorkEnd, StringComparison.Ordinal)
            ? stream[Before.Length..^WorkEnd.Length]
            : null;

    /// <summary>The site of one run of the command line, which is deleted at its end.</summary>
    public static EngineNames OfRun() => new($"{Passing}{Environment.ProcessId}-{Guid.NewGuid().ToString("N")[..6]}");

    /// <summary>Whether a site is that of a run of the command line.</summary>
    public static bool IsPassing(string site) => site.StartsWith(Passing, StringComparison.Ordinal);

    /// <summary>Why a text is no site, or null.</summary>
    public static string? Problem(string site) =>
        site.Length is > 0 and <= 40 && site.All(c => char.IsAsciiLetterOrDigit(c) || c == '-')
            ? null
            : $"'{site}' is no site; use letters, digits and hyphens.";

    /// <summary>A hash that names a run or a piece.</summary>
    public static string Hash(params IEnumerable<string> texts) =>
        XxHash3.HashToUInt64(Encoding.UTF8.GetBytes(string.Join('\0', texts))).ToString("x16", CultureInfo.InvariantCulture);

    /// <summary>A root in a subject: as it is called, or by a hash where its name has what no subject can have.</summary>
    private static string Token(string root) =>
        root.ToLowerInvariant() is var name && name.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_') ? name : $"h{Hash(name)}";
}
