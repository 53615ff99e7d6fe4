using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Web.Stations.Shows;

/// <summary>A row of the table of a show's own passes, as typed.</summary>
public sealed record PassFields(
    string Key,
    string Name,
    string Kind,
    string Channels,
    string Type,
    string Filtered,
    string Operation,
    string Remark
)
{
    /// <summary>The names of the fields, in the row's order.</summary>
    public static readonly string[] Names =
    [
        "pass.key",
        "pass.name",
        "pass.kind",
        "pass.channels",
        "pass.type",
        "pass.filtered",
        "pass.operation",
        "pass.remark",
    ];

    /// <summary>The row that is there to be filled: a pass of light.</summary>
    public static PassFields Blank => new("", "", nameof(PassKind.Light), "", "half", "", "plus", "");

    /// <summary>Whether nobody typed anything into it.</summary>
    public bool IsEmpty => Key.Length + Name.Length + Channels.Length + Remark.Length == 0;

    /// <summary>The row of a pass.</summary>
    public static PassFields From(PassAddition pass) =>
        new(
            pass.Key,
            pass.Name,
            pass.Kind.ToString(),
            string.Join(' ', pass.Channels),
            pass.Type.Name(),
            pass.Filtered == FilteredByKind(pass.Kind) ? ""
                : pass.Filtered ? "yes"
                : "no",
            pass.Operation,
            pass.Remark
        );

    /// <summary>A row of what was sent, a column per field.</summary>
    public static PassFields From(string[][] columns, int row) =>
        new(
            columns[0][row],
            columns[1][row],
            columns[2][row],
            columns[3][row],
            columns[4][row],
            columns[5][row],
            columns[6][row],
            columns[7][row]
        );

    /// <summary>The pass that the row describes, or what is wrong with it.</summary>
    public (PassAddition? Pass, string? Problem) Read()
    {
        if (!Enum.TryParse(Kind, ignoreCase: true, out PassKind kind) || !Enum.IsDefined(kind))
        {
            return (null, $"The kind is one of {string.Join(", ", Enum.GetValues<PassKind>().Select(k => Words.Choice(k)))}.");
        }

        if (ChannelTypes.Find(Type) is not { } type)
        {
            return (null, $"The type is one of {string.Join(", ", ChannelTypes.All)}.");
        }

        var pass = new PassAddition(
            Key,
            Name.Length > 0 ? Name : Key,
            kind,
            [.. Channels.Split([' ', ','], StringSplitOptions.RemoveEmptyEntries)],
            type,
            Filtered.Length == 0 ? FilteredByKind(kind) : Filtered == "yes",
            Operation,
            Remark
        );
        return (pass, pass.Problem);
    }

    private static bool FilteredByKind(PassKind kind) => kind is not (PassKind.Data or PassKind.Identity);
}
