namespace DuneCrate.Planning.Estimates;

/// <summary>What one layer will come to.</summary>
/// <param name="Layer">Name.</param>
/// <param name="Files">Files.</param>
/// <param name="BytesPerFrame">Bytes of one frame over all its outputs.</param>
/// <param name="Bytes">Bytes of all frames.</param>
/// <param name="Hours">Hours of one machine; null without a test frame's time.</param>
public sealed record LayerEstimate(string Layer, long Files, double BytesPerFrame, double Bytes, double? Hours);
