namespace DuneCrate.Exr.Codecs;

/// <summary>Takes the planes of a band while they are still in the cache of the core that made them.</summary>
public interface IPlaneSink
{
    /// <summary>Whether a channel is asked for. One that is not may be left as whatever was in its room, and is not handed on.</summary>
    /// <param name="channel">Index of the channel.</param>
    bool Wants(int channel) => true;

    /// <summary>Takes a channel, line after line from the top, little-endian. Channels come in file order, each once.</summary>
    /// <param name="channel">Index of the channel.</param>
    /// <param name="plane">Its samples; to be read before the call returns.</param>
    void Take(int channel, ReadOnlySpan<byte> plane);
}
