namespace DuneCrate.Store.Rows;

/// <summary>A session that somebody signed out of: its cookie holds no more, wherever a copy of it is.</summary>
public sealed class EndedSessionRow
{
    /// <summary>Random name of the session, as it stands in the cookie.</summary>
    public required string Id { get; set; }

    /// <summary>When it was ended, UTC. It is forgotten once no cookie can be so old.</summary>
    public DateTime EndedAt { get; set; }
}
