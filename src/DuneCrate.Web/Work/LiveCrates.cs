namespace DuneCrate.Web.Work;

/// <summary>Crates that are being sealed or read back, or wait for it, by their keys.</summary>
public sealed class LiveCrates : LiveWork;
