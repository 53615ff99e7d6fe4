namespace DuneCrate.Store.Keeping;

/// <summary>One thing that was examined.</summary>
/// <param name="State">How it is.</param>
/// <param name="What">What was examined: "database", "room".</param>
/// <param name="Words">What was found, and what to do where it is wrong.</param>
public sealed record DoctorLine(DoctorState State, string What, string Words);
