namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// A tiny picture of 32 × 18 blocks, row by row from the top, to tell whether a picture moves; and eight samples of its noise in each
/// block.
/// </summary>
/// <param name="Blocks">Mean of red, green and blue in each block: binary16, little-endian.</param>
/// <param name="Noise">The second difference of green across and down, over the block's own brightness, at fixed places: −127..127 stand
/// for −0.25..0.25.</param>
/// <param name="Smooth">The mean of green around the same places, over the block's own brightness: 0..255 stand for 0..4.</param>
public sealed record PictureFacts(byte[] Blocks, byte[] Noise, byte[] Smooth);
