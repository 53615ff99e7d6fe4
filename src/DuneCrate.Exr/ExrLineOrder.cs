namespace DuneCrate.Exr;

/// <summary>Order of scan lines in the file.</summary>
public enum ExrLineOrder : byte
{
    /// <summary>Top line first.</summary>
    Increasing = 0,

    /// <summary>Bottom line first.</summary>
    Decreasing = 1,

    /// <summary>Any order.</summary>
    Random = 2,
}
