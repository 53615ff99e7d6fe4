namespace DuneCrate.Web.Stations.Shows;

/// <summary>A row of two fields: a name and what it stands for.</summary>
public sealed record PairFields(string Name, string Value)
{
    /// <summary>The row that is there to be filled.</summary>
    public static PairFields Blank => new("", "");

    /// <summary>Whether nothing is in it.</summary>
    public bool IsEmpty => Name.Length + Value.Length == 0;
}
