namespace DuneCrate.Core.Intake.Measures;

/// <summary>
/// A tiny picture of 32 × 18 blocks, row by row from the top, to tell whether a picture moves; and eight samples of its noise in each
/// block.
/// </summary>
/// <param name="Blocks">Mean of red, green and blue in each block: binary16, little-endian.</param>
/// <param name="Noise">Green less the mean of its two neighbours, over the block's own brightness, at fixed places: −127..127 stand for
/// −0.25..0.25.</param>
public sealed record PictureFacts(byte[] Blocks, byte[] Noise);
