namespace DuneCrate.Imaging.Stacking;

/// <summary>The lines of a strip at one frame, from the top. One thread at a time.</summary>
internal interface IStripRows : IDisposable
{
    /// <summary>Memory that reading takes.</summary>
    long ReadingBytes { get; }

    /// <summary>What is lost of the lines read so far, or null.</summary>
    string? Problem { get; }

    /// <summary>The picture's size in words where it is not that of the composite; or null.</summary>
    string? OtherSize { get; }

    /// <summary>Where a line lies in planes that are kept, or null: then it is read.</summary>
    KeptLine? Peek(int line) => null;

    /// <summary>Reads a line of the composite, from 0 at the top of the display window.</summary>
    void Read(int line, StripRow row, CancellationToken cancel);
}
