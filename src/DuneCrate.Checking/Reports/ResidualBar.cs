namespace DuneCrate.Checking.Reports;

/// <summary>The residual of one frame, drawn on 1000 × 60.</summary>
/// <param name="Frame">The frame.</param>
/// <param name="X">Its left edge.</param>
/// <param name="Width">How wide it is.</param>
/// <param name="Y">Its head.</param>
/// <param name="IsOff">Whether the light passes do not sum there.</param>
/// <param name="Mean">The mean residual as a share.</param>
public sealed record ResidualBar(int Frame, double X, double Width, double Y, bool IsOff, double Mean);
