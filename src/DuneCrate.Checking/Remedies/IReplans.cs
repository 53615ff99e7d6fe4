namespace DuneCrate.Checking.Remedies;

/// <summary>A rule whose findings can be settled by changing the plan to what came.</summary>
public interface IReplans
{
    /// <summary>The change, or null when none settles it: the plan cannot be made to say that, or nothing would be left of it.</summary>
    Replan? Replan(ReplanCase at);
}
