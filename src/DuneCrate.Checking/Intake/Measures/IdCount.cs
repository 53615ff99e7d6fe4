namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// A value and the pixels that have it: a number, three numbers joined by spaces, or the eight hexadecimal digits of a Cryptomatte id.
/// </summary>
public sealed record IdCount(string Value, long Pixels);
