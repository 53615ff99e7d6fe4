using DuneCrate.Foundation.Storage;

namespace DuneCrate.Checking.Intake;

/// <summary>Names a rebuild over several files.</summary>
/// <param name="Lead">The file with the beauty.</param>
/// <param name="Hash">XXH3 (128 bit) of the recipe and of the content hashes of all files involved.</param>
public readonly record struct RebuildKey(StoragePath Lead, UInt128 Hash);
