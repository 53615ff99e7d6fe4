namespace DuneCrate.Web.Stations.Planning;

/// <summary>Who makes a change: the browser, and what its user calls themselves.</summary>
public sealed record Editor(string Session, string Name);
