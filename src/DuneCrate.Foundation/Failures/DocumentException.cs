using System.Text.Json;

namespace DuneCrate.Foundation.Failures;

/// <summary>
/// A document cannot be read: the message is a sentence of our own about the value at <see cref="JsonException.Path"/>, for people.
/// </summary>
/// <param name="message">What is wrong, as a sentence.</param>
/// <param name="path">Where, as a JSON path; the reader fills it in without.</param>
/// <param name="line">In which line, counted from 0.</param>
/// <param name="inner">What the reader said.</param>
public sealed class DocumentException(string message, string? path = null, long? line = null, Exception? inner = null)
    : JsonException(message, path, line, null, inner);
