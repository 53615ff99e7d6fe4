namespace DuneCrate.Web.Api.Answers;

/// <summary>How far a crate is, and what the last reading found.</summary>
/// <param name="Crate">Its number.</param>
/// <param name="Name">Name of its folder once it is sealed, or null.</param>
/// <param name="State">Queued, running, done, stopped or failed.</param>
/// <param name="Doing">What is being done now, or null.</param>
/// <param name="Problem">Why it failed, or null.</param>
/// <param name="Files">Files in it.</param>
/// <param name="Bytes">Bytes in it.</param>
/// <param name="By">Who asked for it.</param>
/// <param name="Verified">When it was read back last, UTC, or null.</param>
/// <param name="Problems">What that reading found wrong.</param>
internal sealed record CrateState(
    int Crate,
    string? Name,
    string State,
    string? Doing,
    string? Problem,
    int Files,
    long Bytes,
    string By,
    DateTime? Verified,
    IReadOnlyList<string> Problems
);
