using System.Collections.Concurrent;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Testing;

/// <summary>A small shot rendered by the stand-in with faults, taken in and judged.</summary>
public sealed class ShotFixture : IDisposable
{
    public const string AllFrames = "1001-1012";

    private static readonly ConcurrentDictionary<string, WrittenOnce> Renders = new();

    private readonly TempFolder _folder;

    public ShotFixture(params string[] faults)
    {
        Plan = StandInPlan.Create("KP010", FrameSet.Parse(AllFrames), 96, 54);
        _folder = Renders
            .GetOrAdd(string.Join(' ', faults), _ => new WrittenOnce(f => Disk.Render(Plan, f.Path, null, [.. faults.Select(Parse)])))
            .Copy();
    }

    public Plan Plan { get; set; }

    public string Folder => _folder.Path;

    public string this[string name] => _folder[name];

    public CheckReport Check(FactsDepth depth = FactsDepth.Pixels, bool withPlan = true) =>
        Disk.Check(Folder, withPlan ? Plan : null, depth, new NoFactsCache()).Report;

    public void Dispose() => _folder.Dispose();

    private static Fault Parse(string text) =>
        Fault.TryParse(text, out Fault? fault, out string? problem) ? fault : throw new FormatException(problem);
}
