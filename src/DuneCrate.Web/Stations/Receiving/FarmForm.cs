namespace DuneCrate.Web.Stations.Receiving;

/// <summary>An order to the farm as it stands in the form.</summary>
/// <param name="Frames">Frames, or nothing for all.</param>
/// <param name="Seconds">Least seconds a layer frame.</param>
/// <param name="Faults">What is to go wrong.</param>
public sealed record FarmForm(string Frames, double Seconds, string Faults);
