namespace DuneCrate.Exr;

/// <summary>One chunk of a part: its place in the chunk table, the pixels it holds, and for tiles where it stands.</summary>
/// <param name="Index">Index in the chunk table.</param>
/// <param name="Box">Its pixels; for a smaller level in that level's coordinates.</param>
/// <param name="TileX">Tile across, from 0; 0 for scan lines.</param>
/// <param name="TileY">Tile down, from 0; 0 for scan lines.</param>
/// <param name="LevelX">Level across.</param>
/// <param name="LevelY">Level down.</param>
public readonly record struct ExrChunk(int Index, PixelBox Box, int TileX, int TileY, int LevelX, int LevelY);
