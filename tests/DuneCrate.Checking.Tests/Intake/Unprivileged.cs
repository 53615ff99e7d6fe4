using System.Runtime.ExceptionServices;
using System.Runtime.InteropServices;

namespace DuneCrate.Checking.Tests.Intake;

/// <summary>
/// Does something on a thread of its own that may open no more files than anybody: tests often run as root, whom no permission stops.
/// Source: the Linux manual pages setfsuid(2) and capabilities(7), *Effect of user ID changes on capabilities*.
/// </summary>
internal static class Unprivileged
{
    /// <summary>The user "nobody" of Debian.</summary>
    private const uint Nobody = 65534;

    /// <summary>Does it, and throws what it throws.</summary>
    public static void Do(Action action)
    {
        ExceptionDispatchInfo? thrown = null;
        var thread = new Thread(() =>
        {
            try
            {
                setfsuid(Nobody);
                action();
            }
            catch (Exception e)
            {
                thrown = ExceptionDispatchInfo.Capture(e);
            }
        });
        thread.Start();
        thread.Join();
        thrown?.Throw();
    }

    [DllImport("libc")]
    private static extern int setfsuid(uint user);
}
