using DuneCrate.Foundation.Frames;

namespace DuneCrate.Crates.Deltas;

/// <summary>Frames of a pass that differ from an older crate's.</summary>
/// <param name="Layer">The render layer.</param>
/// <param name="Pass">Key of the pass; the files of several passes differ together.</param>
/// <param name="Files">The files, with one <c>#</c> per digit.</param>
/// <param name="Frames">The frames, by their numbers in the crate.</param>
/// <param name="IsNew">Whether the older crate has no such files at all.</param>
public sealed record OntoChange(string Layer, string Pass, string Files, FrameSet Frames, bool IsNew);
