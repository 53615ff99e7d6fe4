using System.Collections.Immutable;
using System.Text.RegularExpressions;

namespace DuneCrate.Web.Tests.People;

/// <summary>The literal table of who may do what, <c>access-matrix.txt</c>.</summary>
internal static partial class AccessMatrix
{
    /// <summary>Everybody it speaks of.</summary>
    public static readonly ImmutableArray<string> Everybody =
    [
        "nobody",
        "stranger",
        "compositor",
        "lighter",
        "wrangler",
        "keeper",
        "confirmed",
        "token",
    ];

    /// <summary>Its lines: method, address with its places open, and who is let in.</summary>
    public static readonly ImmutableArray<(string Method, string Pattern, ImmutableHashSet<string> Who)> Lines =
    [
        .. File.ReadLines(Path.Combine(Repository.Root, "tests", "DuneCrate.Web.Tests", "People", "access-matrix.txt"))
            .Where(l => l.Length > 0 && l[0] != '#')
            .Select(l => l.Split([' ', '|'], StringSplitOptions.RemoveEmptyEntries))
            .Select(w => (w[0], w[1], w[2..].ToImmutableHashSet())),
    ];

    /// <summary>An address with its places filled.</summary>
    public static string Fill(string pattern, string show = "KELP", string shot = "KP010") =>
        Place()
            .Replace(
                pattern,
                m =>
                    m.Value switch
                    {
                        "{show}" => show,
                        "{shot}" => shot,
                        "{id:int}" => "1",
                        "{word}" => "none",
                        _ => "",
                    }
            );

    [GeneratedRegex(@"\{[^}]*\}")]
    private static partial Regex Place();
}
