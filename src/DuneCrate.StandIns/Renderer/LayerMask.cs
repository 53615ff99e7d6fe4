namespace DuneCrate.StandIns.Renderer;

/// <summary>Which layers a ray meets.</summary>
[Flags]
internal enum LayerMask
{
    Sub = 1,
    Kelp = 2,
    Seabed = 4,
    All = 7,
}
