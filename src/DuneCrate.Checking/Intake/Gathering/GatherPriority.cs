namespace DuneCrate.Checking.Intake.Gathering;

/// <summary>How soon an order is wanted.</summary>
public enum GatherPriority
{
    /// <summary>A whole folder: in its turn.</summary>
    Usual,

    /// <summary>The first frames of a layer: before whatever waits.</summary>
    First,
}
