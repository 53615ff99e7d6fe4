namespace DuneCrate.Exr.Tests;

/// <summary>Tests that measure the process they run in; no other test runs beside them.</summary>
[CollectionDefinition(Name, DisableParallelization = true)]
public static class Alone
{
    public const string Name = "alone";
}
