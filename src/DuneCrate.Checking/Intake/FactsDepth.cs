namespace DuneCrate.Checking.Intake;

/// <summary>How much of a file is read.</summary>
public enum FactsDepth
{
    /// <summary>Names, sizes and headers.</summary>
    Header,

    /// <summary>Every pixel of every channel.</summary>
    Pixels,
}
