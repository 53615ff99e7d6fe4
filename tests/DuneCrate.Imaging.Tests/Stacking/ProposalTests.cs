using DuneCrate.Exr;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Planning.Suggestions;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Imaging.Tests.Stacking;

/// <summary>The stack that is proposed for layers that hold each other out, against the same frame rendered whole.</summary>
public sealed class ProposalTests : IDisposable
{
    private readonly TempFolder _folder = new();

    [Theory]
    [InlineData("KP010", 1001)]
    [InlineData("KP010", 1013)]
    [InlineData("KP020", 1024)]
    [InlineData("KP040", 1007)]
    public void The_proposed_stack_is_the_frame_rendered_whole(string shot, int frame)
    {
        Plan plan = StandInPlan.Create(shot, FrameSet.Range(frame, frame), 240, 136);
        Disk.Render(plan, _folder.Path, null, []);
        StandInRenderer.RenderWhole(plan.Shot, Disk.Folder(_folder.Path), null);
        StackRecipe proposed = StackProposal.From(plan, _ => true);
        StackedFrame made = new StackCompositor(proposed, Disk.Folder(_folder.Path), ReadLimits.Default).Make(frame, default);
        using ExrFile file = Disk.Exr(_folder[$"whole/{shot}_whole.{frame}.exr"]);
        ExrImage whole = ExrImage.Read(file, file.Parts[0], null, out _, default);
        double apart = 0,
            light = 0;
        for (int c = 0; c < 3; c++)
        {
            float[] wanted = whole.Planes["RGB"[c].ToString()];
            apart += wanted.Zip(made.Planes[c], (a, b) => Math.Abs((double)a - b)).Sum();
            light += wanted.Sum();
        }

        Assert.True(apart / light < 0.005, $"{100 * apart / light:0.###} % apart");
    }

    public void Dispose() => _folder.Dispose();
}
