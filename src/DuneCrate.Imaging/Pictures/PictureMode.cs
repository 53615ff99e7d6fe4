namespace DuneCrate.Imaging.Pictures;

/// <summary>What is shown of colour.</summary>
public enum PictureMode
{
    /// <summary>The colour.</summary>
    Colour,

    /// <summary>How bright it is: luminance by the weights of its primaries.</summary>
    Luminance,

    /// <summary>How many stops its luminance lies from middle grey, as flat colours.</summary>
    Stops,
}
