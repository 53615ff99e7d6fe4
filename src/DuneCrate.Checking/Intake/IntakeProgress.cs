namespace DuneCrate.Checking.Intake;

/// <summary>How far an intake is.</summary>
/// <param name="Files">Files done.</param>
/// <param name="OfFiles">All files.</param>
/// <param name="Bytes">Bytes of the files done.</param>
/// <param name="OfBytes">Bytes of all files.</param>
/// <param name="Current">The file last finished.</param>
public readonly record struct IntakeProgress(int Files, int OfFiles, long Bytes, long OfBytes, string Current);
