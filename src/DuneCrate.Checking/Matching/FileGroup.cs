using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Matching;

/// <summary>Files of an output about which a rule says the same: one cause, one finding.</summary>
/// <typeparam name="T">The rule's verdict.</typeparam>
/// <param name="Verdict">What is wrong with them.</param>
/// <param name="Frames">Their frames.</param>
/// <param name="First">The first of them.</param>
public readonly record struct FileGroup<T>(T Verdict, FrameSet Frames, CheckedFile First);
