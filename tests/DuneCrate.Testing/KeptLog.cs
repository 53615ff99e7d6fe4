using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;

namespace DuneCrate.Testing;

/// <summary>Keeps what is logged, of one category where it is given one.</summary>
public sealed class KeptLog(string category = "") : ILoggerProvider, ILogger
{
    public List<(LogLevel Level, string Text, Exception? Why)> Lines { get; } = [];

    public ILogger CreateLogger(string categoryName) =>
        categoryName.EndsWith(category, StringComparison.Ordinal) ? this : NullLogger.Instance;

    public IDisposable? BeginScope<TState>(TState state)
        where TState : notnull => null;

    public bool IsEnabled(LogLevel logLevel) => true;

    public void Log<TState>(
        LogLevel logLevel,
        EventId eventId,
        TState state,
        Exception? exception,
        Func<TState, Exception?, string> formatter
    ) => Lines.Add((logLevel, formatter(state, exception), exception));

    public void Dispose() { }
}
