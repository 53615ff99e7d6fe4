namespace DuneCrate.Planning.Model;

/// <summary>What values a render setting takes.</summary>
public enum SettingKind
{
    /// <summary>A number from 0 up.</summary>
    Number,

    /// <summary>yes or no.</summary>
    Switch,

    /// <summary>One of a few words.</summary>
    Choice,

    /// <summary>Free words.</summary>
    Text,
}
