namespace DuneCrate.Engine;

/// <summary>The engine cannot be used; the message says why and what to do.</summary>
public sealed class EngineException(string message, Exception? cause = null) : Exception(message, cause);
