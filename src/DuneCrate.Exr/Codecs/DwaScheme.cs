namespace DuneCrate.Exr.Codecs;

/// <summary>How DWA packs a channel; the numbers are those in files.</summary>
internal enum DwaScheme
{
    /// <summary>zlib over the samples as they are.</summary>
    Raw = 0,

    /// <summary>Quantised cosine transforms.</summary>
    Cosine = 1,

    /// <summary>Run lengths of byte planes, then zlib.</summary>
    RunLength = 2,
}
