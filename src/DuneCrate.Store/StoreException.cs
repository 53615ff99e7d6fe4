namespace DuneCrate.Store;

/// <summary>The database cannot be used; the message says why and what to do.</summary>
public sealed class StoreException(string message, Exception? cause = null) : IOException(message, cause);
