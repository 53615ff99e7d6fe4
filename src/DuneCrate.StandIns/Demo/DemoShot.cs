using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.StandIns.Demo;

/// <summary>One shot of the demo: its plan, the frames that are rendered, and what goes wrong.</summary>
/// <param name="Code">Code of the shot.</param>
/// <param name="Rendered">The frames that the renderer gets to.</param>
/// <param name="Faults">What goes wrong.</param>
/// <param name="About">What it is there to show.</param>
public sealed record DemoShot(string Code, FrameSet Rendered, ImmutableArray<Fault> Faults, string About)
{
    /// <summary>Its plan.</summary>
    public Plan Plan { get; } = DemoPlan.Create(Code, DemoShow.Frames);
}
