using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Stations.People;

/// <summary>What came of a try to sign in.</summary>
/// <param name="Person">Who signed in, or null.</param>
/// <param name="IsLocked">Whether the account waits after too many wrong passwords.</param>
public sealed record SignedAs(PersonRow? Person, bool IsLocked);
