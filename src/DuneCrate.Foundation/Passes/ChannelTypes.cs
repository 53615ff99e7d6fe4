namespace DuneCrate.Foundation.Passes;

/// <summary>Names, sizes and order of the channel types.</summary>
public static class ChannelTypes
{
    private static readonly string[] Names = ["uint8", "uint16", "half", "uint", "float"];

    /// <summary>Every type name, shallowest first.</summary>
    public static IReadOnlyList<string> All => Names;

    /// <summary>The name used in documents: half, float, uint, uint8, uint16.</summary>
    public static string Name(this ChannelType type) => Names[(int)type];

    /// <summary>The type of a name in documents, or null.</summary>
    public static ChannelType? Find(string? name) => Array.IndexOf(Names, name) is >= 0 and int index ? (ChannelType)index : null;

    /// <summary>Bytes of one sample.</summary>
    public static int Bytes(this ChannelType type) =>
        type switch
        {
            ChannelType.UInt8 => 1,
            ChannelType.UInt16 or ChannelType.Half => 2,
            _ => 4,
        };

    /// <summary>
    /// Whether values planned as <paramref name="planned"/> lose something when stored as <paramref name="found"/>. Half holds whole
    /// numbers to 2048 and colour above 1; 16-bit integers hold neither stops above 1 nor ids beyond 65535; float holds all the rest
    /// but not every 32-bit id.
    /// </summary>
    public static bool LosesAgainst(this ChannelType found, ChannelType planned) =>
        found != planned
        && (planned, found) switch
        {
            (ChannelType.UInt8, _) => false,
            (ChannelType.UInt16, ChannelType.UInt8 or ChannelType.Half) => true,
            (ChannelType.UInt16, _) => false,
            (ChannelType.Half, ChannelType.Float) => false,
            (ChannelType.Half, _) => true,
            (ChannelType.UInt, _) => true,
            (ChannelType.Float, _) => true,
            _ => true,
        };
}
