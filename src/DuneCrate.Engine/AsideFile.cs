namespace DuneCrate.Engine;

/// <summary>What was set aside because every reader failed at it.</summary>
/// <param name="Run">The run.</param>
/// <param name="Name">The file, or the sum.</param>
/// <param name="Tries">How often it was tried.</param>
/// <param name="At">When it was given up.</param>
public sealed record AsideFile(string Run, string Name, int Tries, DateTime At);
