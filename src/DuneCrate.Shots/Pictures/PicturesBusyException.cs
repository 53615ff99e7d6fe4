namespace DuneCrate.Shots.Pictures;

/// <summary>The server reads as many pictures as it can; more wait than it lets wait.</summary>
public sealed class PicturesBusyException() : Exception("Many pictures are being read at this moment. Try again in a few seconds.");
