using System.Diagnostics.CodeAnalysis;

namespace DuneCrate.Foundation.Threading;

/// <summary>
/// Waiting in code that computes on threads of its own, side by side, and has nothing else to do meanwhile. Nothing that answers requests
/// waits so: it awaits.
/// </summary>
public static class WorkThread
{
    /// <summary>What a task comes to, or the exception that it ends with.</summary>
    [SuppressMessage("ApiDesign", "RS0030", Justification = "The one place where a thread of work waits.")]
    public static T WaitFor<T>(Task<T> task) => task.GetAwaiter().GetResult();

    /// <inheritdoc cref="WaitFor{T}(Task{T})"/>
    [SuppressMessage("ApiDesign", "RS0030", Justification = "The one place where a thread of work waits.")]
    public static void WaitFor(Task task) => task.GetAwaiter().GetResult();
}
