using Microsoft.AspNetCore.Identity;

namespace DuneCrate.Store.Rows;

/// <summary>A person with an account. They sign in with <see cref="IdentityUser{TKey}.UserName"/>.</summary>
public sealed class PersonRow : IdentityUser<int>
{
    /// <summary>Name for people: stands in waivers, seals, notes and the history.</summary>
    public required string Name { get; set; }

    /// <summary>Whether they look after the installation: people, shows, upkeep; they may do all in every show.</summary>
    public bool IsKeeper { get; set; }

    /// <summary>When the account was made, UTC.</summary>
    public DateTime JoinedAt { get; set; }

    /// <summary>When they signed in last, UTC, or null.</summary>
    public DateTime? SeenAt { get; set; }

    /// <summary>When the account was closed, UTC, or null.</summary>
    public DateTime? ClosedAt { get; set; }

    /// <summary>What they are told of by mail: kinds of letters, by comma.</summary>
    public string Letters { get; set; } = "";

    /// <summary>Their roles.</summary>
    public List<MembershipRow> Memberships { get; set; } = [];
}
