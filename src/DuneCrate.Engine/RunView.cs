namespace DuneCrate.Engine;

/// <summary>A run on its way.</summary>
/// <param name="Id">Its name.</param>
/// <param name="Where">Root and folder.</param>
/// <param name="Done">Files or sums done.</param>
/// <param name="Of">All of them.</param>
/// <param name="Waiting">Pieces that are not given out.</param>
/// <param name="Out">Pieces that are out.</param>
/// <param name="Machines">Workers that have sent results.</param>
public sealed record RunView(string Id, string Where, int Done, int Of, int Waiting, int Out, int Machines);
