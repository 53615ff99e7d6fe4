namespace DuneCrate.Imaging.Pictures;

/// <summary>What colour with alpha is laid over.</summary>
public enum PictureGround
{
    /// <summary>Black: premultiplied colour as it is stored.</summary>
    Black,

    /// <summary>Middle grey, 0.18.</summary>
    Grey,

    /// <summary>Squares of two greys, eight pixels wide.</summary>
    Checker,
}
