namespace DuneCrate.Web.Access;

/// <summary>What an address asks of whoever calls it.</summary>
public enum Permission
{
    /// <summary>Nothing: anybody may.</summary>
    Nothing,

    /// <summary>An account.</summary>
    Account,

    /// <summary>Any role in the show.</summary>
    Look,

    /// <summary>To be a wrangler or a lighter of the show.</summary>
    Plan,

    /// <summary>To be a wrangler or a compositor of the show, who answers for what was handed over.</summary>
    Answer,

    /// <summary>To be a wrangler of the show.</summary>
    Wrangle,

    /// <summary>To look after the installation.</summary>
    Maintain,

    /// <summary>To look after the installation, with the password given again a short while ago.</summary>
    MaintainConfirmed,

    /// <summary>A token for the show.</summary>
    Token,
}
