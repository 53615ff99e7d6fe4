namespace DuneCrate.Crates.Converting;

/// <summary>A file that was made and read back.</summary>
/// <param name="Sum">SHA-256 of its bytes, in lower-case hexadecimal digits.</param>
/// <param name="Bytes">Its bytes.</param>
/// <param name="Loss">What halves lost; null when none were made of floats.</param>
public sealed record MadeFile(string Sum, long Bytes, HalfLoss? Loss);
