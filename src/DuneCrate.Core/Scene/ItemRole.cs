namespace DuneCrate.Core.Scene;

/// <summary>How an item takes part in a layer; set once and true for all passes of the layer.</summary>
public enum ItemRole
{
    /// <summary>Seen, casts and receives.</summary>
    Shown,

    /// <summary>Not there at all.</summary>
    Hidden,

    /// <summary>Cuts a hole into what lies behind it.</summary>
    Holdout,

    /// <summary>Not seen; its shadow is.</summary>
    ShadowOnly,

    /// <summary>Not seen directly; mirrored it is.</summary>
    ReflectionOnly,

    /// <summary>Seen, and casts no shadow.</summary>
    NoShadow,
}

/// <summary>Words and marks of the roles.</summary>
public static class ItemRoles
{
    /// <summary>For people.</summary>
    public static string Words(this ItemRole role) =>
        role switch
        {
            ItemRole.ShadowOnly => "shadow only",
            ItemRole.ReflectionOnly => "reflection only",
            ItemRole.NoShadow => "no shadow",
            _ => role.ToString().ToLowerInvariant(),
        };

    /// <summary>The role of its words, spaces and dashes alike; shown for nothing; null for words that are none.</summary>
    public static ItemRole? Find(string words)
    {
        string text = words.Trim().ToLowerInvariant().Replace('-', ' ');
        return text.Length == 0
            ? ItemRole.Shown
            : Enum.GetValues<ItemRole>().Cast<ItemRole?>().FirstOrDefault(r => r!.Value.Words() == text);
    }

    /// <summary>Whether the camera sees it.</summary>
    public static bool IsSeen(this ItemRole role) => role is ItemRole.Shown or ItemRole.NoShadow;
}
