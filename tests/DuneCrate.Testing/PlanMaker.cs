namespace DuneCrate.Testing;

/// <summary>Small plans for tests.</summary>
public static class PlanMaker
{
    public static readonly Plan Empty = new()
    {
        Show = new ShowPlan { Code = "KELP" },
        Shot = new ShotPlan
        {
            Code = "KP040",
            Frames = FrameSet.Parse("1-360"),
            Width = 64,
            Height = 36,
            Camera = "cam_main",
        },
    };

    /// <summary>A plan with one layer, sub, that has a beauty and the given passes as the catalogue has them.</summary>
    public static Plan WithSub(params string[] passes) =>
        new WriteCells([.. passes.Select(p => new CellText("sub", p, "x"))]).Apply(new AddLayer("sub").Apply(Empty));

    public static Plan Apply(this Plan plan, params PlanEdit[] edits) => edits.Aggregate(plan, (p, edit) => edit.Apply(p));

    public static Plan Cell(this Plan plan, string layer, string pass, string text) =>
        new WriteCells([new CellText(layer, pass, text)]).Apply(plan);

    public static string[] Passes(this Plan plan, string layer = "sub") => [.. plan.FindLayer(layer)!.AllPasses.Select(p => p.Pass)];

    public static string Text(this Plan plan) => PlanDocument.Write(plan);
}
