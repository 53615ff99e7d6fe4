namespace DuneCrate.Foundation.Passes;

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
