namespace DuneCrate.StandIns.Farm;

/// <summary>One job of the queue. Immutable; the queue hands out the newest.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Order">What it is asked to do.</param>
/// <param name="State">How it stands.</param>
/// <param name="Done">Layer frames done.</param>
/// <param name="Description">What it is doing, or why it ended.</param>
public sealed record FarmJob(int Id, FarmOrder Order, FarmState State, int Done, string Description)
{
    /// <summary>All layer frames.</summary>
    public int Total { get; } = (int)Order.Portions.Sum(p => p.Count);

    /// <summary>Whether it has ended one way or another.</summary>
    public bool IsOver => State is FarmState.Done or FarmState.Cancelled or FarmState.Failed;
}
