using System.Collections.Immutable;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Access;

/// <summary>Who makes a request.</summary>
/// <param name="Name">Name for people; empty for nobody in particular.</param>
/// <param name="PersonId">Their account, or null.</param>
/// <param name="IsKeeper">Whether they look after the installation.</param>
/// <param name="Roles">What they are, by code of the show.</param>
/// <param name="IsAlone">Whether the application runs without accounts, for one person on one machine.</param>
public sealed record Visitor(string Name, int? PersonId, bool IsKeeper, ImmutableDictionary<string, ShowRole> Roles, bool IsAlone = false)
{
    /// <summary>Somebody who has not signed in.</summary>
    public static readonly Visitor Nobody = new("", null, false, ImmutableDictionary<string, ShowRole>.Empty);

    /// <summary>The one person at a machine whose application runs without accounts.</summary>
    public static readonly Visitor Alone = Nobody with { IsKeeper = true, IsAlone = true };

    /// <summary>Show that a token stands for; null for people.</summary>
    public string? TokenShow { get; init; }

    /// <summary>Whether the password was given again a short while ago.</summary>
    public bool IsConfirmed { get; init; } = IsAlone;

    /// <summary>Whether anybody is known at all.</summary>
    public bool IsKnown => IsAlone || PersonId is not null;

    /// <summary>Whether an address that asks for something may be called.</summary>
    /// <param name="need">What it asks for.</param>
    /// <param name="show">Code of the show that it is about, or null.</param>
    public bool May(Permission need, string? show = null)
    {
        ShowRole? role =
            IsKeeper ? ShowRole.Wrangler
            : show is not null && Roles.TryGetValue(show, out ShowRole found) ? found
            : null;
        return need switch
        {
            Permission.Nothing => true,
            Permission.Account => IsKnown,
            Permission.Look => role is not null,
            Permission.Plan => role is ShowRole.Wrangler or ShowRole.Lighter,
            Permission.Answer => role is ShowRole.Wrangler or ShowRole.Compositor,
            Permission.Wrangle => role is ShowRole.Wrangler,
            Permission.Maintain => IsKeeper,
            Permission.MaintainConfirmed => IsKeeper && IsConfirmed,
            Permission.Token => show is not null && TokenShow == show,
            _ => false,
        };
    }
}
