using System.Security.Cryptography;
using System.Text;
using DuneCrate.Foundation.History;

namespace DuneCrate.Foundation.Tests.History;

/// <summary>
/// What is done to a history is seen. Source: OWASP Application Security Verification Standard 5.0, V16.4 (logs are protected from
/// being changed).
/// </summary>
public sealed class HistoryChainTests
{
    private static readonly DateTime At = new(2026, 11, 27, 7, 30, 0, 123, DateTimeKind.Utc);

    private static List<HistoryEntry> Entries(int count)
    {
        var entries = new List<HistoryEntry>();
        for (int i = 0; i < count; i++)
        {
            entries.Add(
                HistoryChain.Next(
                    entries.LastOrDefault(),
                    At.AddSeconds(i).AddTicks(7),
                    new AuditEvent("Mara Quill", HistoryKinds.Waived, $"finding {i}", "KELP", "KP010", null, "black frame is meant")
                )
            );
        }

        return entries;
    }

    [Fact]
    public void A_whole_history_is_whole()
    {
        Assert.Null(HistoryChain.Problem([]));
        Assert.Null(HistoryChain.Problem(Entries(20)));
    }

    /// <summary>The hash is that of the array as anybody writes it down who reads the documentation: printf and sha256sum.</summary>
    [Fact]
    public void The_hash_is_what_sha256sum_says_of_the_fields()
    {
        HistoryEntry entry = Entries(1)[0];
        string text =
            "[1,\"2026-11-27T07:30:00.123Z\",\"Mara Quill\",\"waived\",\"KELP\",\"KP010\",\"finding 0\",null,\"black frame is meant\",\""
            + $"{HistoryChain.First}\"]";
        using var folder = new TempFolder();
        File.WriteAllText(folder["entry"], text);
        Assert.StartsWith(entry.Hash, Tool.Run("sha256sum", folder["entry"]));
        Assert.Equal(Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text))), entry.Hash);
    }

    [Fact]
    public void Whatever_is_changed_taken_out_or_put_elsewhere_is_named()
    {
        List<HistoryEntry> whole = Entries(9);
        (Func<HistoryEntry, HistoryEntry> Change, string Field)[] changes =
        [
            (e => e with { Who = "Somebody else" }, "who"),
            (e => e with { At = e.At.AddMilliseconds(1) }, "when"),
            (e => e with { Kind = HistoryKinds.Sealed }, "kind"),
            (e => e with { Show = null }, "show"),
            (e => e with { Shot = "KP020" }, "shot"),
            (e => e with { Subject = "finding 40" }, "subject"),
            (e => e with { Before = "" }, "before"),
            (e => e with { After = null }, "after"),
        ];
        foreach ((Func<HistoryEntry, HistoryEntry> change, string field) in changes)
        {
            List<HistoryEntry> changed = [.. whole];
            changed[4] = change(changed[4]);
            Assert.True(HistoryChain.Problem(changed) == "entry 5 was changed", field);

            // Somebody who is thorough gives the entry a new hash: the next one does not follow any more.
            changed[4] = changed[4] with
            {
                Hash = changed[4].ComputeHash(),
            };
            Assert.True(HistoryChain.Problem(changed) == "entry 6 does not follow the one before it", field);
        }

        Assert.Equal("entry 3 is missing", HistoryChain.Problem(whole.Where(e => e.Number != 3)));
        Assert.Equal("entries 3 to 5 are missing", HistoryChain.Problem(whole.Where(e => e.Number is < 3 or > 5)));
        Assert.NotNull(HistoryChain.Problem([whole[1], whole[0]]));
    }
}
