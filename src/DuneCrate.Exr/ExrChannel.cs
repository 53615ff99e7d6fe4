namespace DuneCrate.Exr;

/// <summary>One entry of a part's channel list. Source: <em>OpenEXR File Layout</em>, chlist.</summary>
/// <param name="Name">Name such as <c>R</c> or <c>direct_diffuse.G</c>; lists are sorted by it, byte by byte.</param>
/// <param name="Type">uint, half or float.</param>
/// <param name="XSampling">Horizontal subsampling; 1 for pictures.</param>
/// <param name="YSampling">Vertical subsampling; 1 for pictures.</param>
/// <param name="IsPerceptuallyLinear">Hint to lossy codecs.</param>
public readonly record struct ExrChannel(
    string Name,
    ExrPixelType Type,
    int XSampling = 1,
    int YSampling = 1,
    bool IsPerceptuallyLinear = false
);
