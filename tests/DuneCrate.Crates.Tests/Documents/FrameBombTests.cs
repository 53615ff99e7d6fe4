using System.Diagnostics;
using System.Reflection;
using CsCheck;

namespace DuneCrate.Crates.Tests.Documents;

/// <summary>
/// Texts of a few characters that stand for very many frames: bounded from their runs, before anything is expanded.
/// Source: OWASP Application Security Verification Standard 4.0.3, V5.1.4 (range of structured data) and V12.1.1 (nothing that exhausts).
/// </summary>
public class FrameBombTests
{
    private const long MostMemory = 64 << 20;

    [Theory]
    [InlineData("1-200000000x2,2-200000000x3")]
    [InlineData("1-2000000000x7,2-2000000000x11,3-2000000000x13,4-2000000000x17")]
    [InlineData("-2147483648-2147483647x2,-2147483647-2147483647x3")]
    [InlineData("1-2147483647x46341,2-2147483647x46340")]
    [InlineData("2147483647-2147483647,2147483646-2147483647x2147483647")]
    [InlineData("1-99999999999999999999")]
    [InlineData("1-5x0")]
    public void Bombs_are_answered_at_once_and_take_no_memory(string text)
    {
        long before = GC.GetAllocatedBytesForCurrentThread();
        if (FrameSet.TryParse(text, out FrameSet? set, out string? problem))
        {
            Assert.InRange(set.LongCount, 1, 1L << 32);
            Assert.True(set.Contains(set.First) && set.Contains(set.Last));
            _ = set.Union(FrameSet.Single(5)).ToString();
        }
        else
        {
            Assert.NotEmpty(problem);
        }

        Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 0, 8 * MostMemory);
    }

    [Theory]
    [InlineData("1-2000000000x2", "1-2000000000x3", "1-1999999999x6")]
    [InlineData("1-2000000000x6", "4-2000000000x10", "")] // 1, 7, 13, … are odd, 4, 14, 24, … even.
    [InlineData("3-2000000000x4", "1-2000000000x6", "7-1999999999x12")]
    [InlineData("5-2147483647x46337", "7-2147483647x46341", "1073628295")] // 5 + 46337 × 23170 = 7 + 46341 × 23168.
    public void Common_frames_of_two_runs_are_found_by_congruence(string one, string other, string common)
    {
        long before = GC.GetAllocatedBytesForCurrentThread();
        FrameSet found = FrameSet.Parse(one).Intersect(FrameSet.Parse(other));
        Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 0, 1 << 20);
        Assert.Equal(common, found.ToString());
    }

    [Fact]
    public void Whatever_is_asked_of_large_sets_agrees_with_small_ones()
    {
        Gen<(int First, int Length, int Step)> run = Gen.Select(Gen.Int[-40, 40], Gen.Int[0, 60], Gen.Int[1, 9]);
        Gen<FrameSet> sets = run.Array[0, 4]
            .Select(runs => FrameSet.UnionOf(runs.Select(r => FrameSet.Range(r.First, r.First + r.Length, r.Step))));
        Gen.Select(sets, sets)
            .Sample(
                (a, b) =>
                {
                    int[] left = [.. a],
                        right = [.. b];
                    Assert.Equal(left.Intersect(right).Order(), a.Intersect(b));
                    Assert.Equal(left.Except(right).Order(), a.Except(b));
                    Assert.Equal(left.Union(right).Order(), a.Union(b));
                }
            );
    }

    [Fact]
    public void Nothing_overflows_at_the_ends_of_numbers()
    {
        FrameSet all = FrameSet.Range(int.MinValue, int.MaxValue);
        Assert.Equal(1L << 32, all.LongCount);
        Assert.True(all.Contains(int.MaxValue) && all.Contains(int.MinValue));
        FrameSet odd = FrameSet.Range(int.MaxValue - 4, int.MaxValue, 2);
        Assert.Equal([int.MaxValue - 4, int.MaxValue - 2, int.MaxValue], odd);
        Assert.Equal(3, odd.Count);
        Assert.Equal((1L << 32) - 3, all.Except(odd).LongCount);
        Assert.Equal(odd, all.Intersect(odd));
        Assert.Equal(int.MaxValue, odd.Nearest(int.MaxValue));
        Assert.Equal(int.MaxValue - 4, odd.Nearest(int.MinValue));
    }

    /// <summary>Every reader of texts that there is, found by its name, is given what nobody would write.</summary>
    [Fact]
    public void No_reader_of_texts_throws()
    {
        string?[] texts =
        [
            null,
            "",
            " ",
            "-",
            "--",
            "x",
            "/",
            "1/0",
            "0/0",
            "-1/-1",
            "1/99999999999999",
            "9999999999999999999999",
            "1e309",
            "-1e309",
            "NaN",
            "∞",
            "1-",
            "-1",
            "1-2x",
            "1-2x-1",
            "1-2x99999999999",
            "{",
            "}",
            "{frame",
            "{frame}{frame}",
            "{{}}",
            "\0",
            "\ud800",
            "\u202e",
            new string('9', 100_000),
            new string('{', 100_000),
            new string('-', 100_000),
            string.Concat(Enumerable.Repeat("1,", 50_000)),
            "missing:sub:1-4294967295",
            ":::::",
            "a:b:c:d",
            "v",
            "v-1",
            "v99999999999999999999",
            "2147483647",
            "-2147483648",
            "2147483648",
            "#FFFFFFFFFF",
            "24000/1001/1001",
            "1:2:3",
            "٣",
            "１",
        ];
        MethodInfo[] readers =
        [
            .. Architecture
                .Rooms.Assemblies.Append(typeof(DuneCrate.StandIns.Renderer.StandInRenderer).Assembly)
                .SelectMany(a => a.GetTypes())
                .SelectMany(t =>
                    t.GetMethods(BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.Static | BindingFlags.DeclaredOnly)
                )
                .Where(m =>
                    (m.Name.StartsWith("TryParse", StringComparison.Ordinal) || m.Name is "IsStyle" or "NameProblem")
                    && !m.ContainsGenericParameters
                    && m.GetParameters() is [{ ParameterType: var first }, ..]
                    && first == typeof(string)
                ),
        ];
        Assert.True(readers.Length >= 6, string.Join(", ", readers.Select(r => $"{r.DeclaringType!.Name}.{r.Name}")));
        foreach (MethodInfo reader in readers)
        {
            bool takesNull = new NullabilityInfoContext().Create(reader.GetParameters()[0]).WriteState == NullabilityState.Nullable;
            foreach (string? text in texts.Where(t => t is not null || takesNull))
            {
                object?[] arguments =
                [
                    text,
                    .. reader
                        .GetParameters()
                        .Skip(1)
                        .Select(p => p.ParameterType.IsValueType ? Activator.CreateInstance(p.ParameterType) : null),
                ];
                long start = Stopwatch.GetTimestamp();
                try
                {
                    reader.Invoke(null, arguments);
                }
                catch (TargetInvocationException e)
                {
                    Assert.Fail($"{reader.DeclaringType!.Name}.{reader.Name}({text?[..Math.Min(text.Length, 40)]}): {e.InnerException}");
                }

                Assert.True(
                    Stopwatch.GetElapsedTime(start) < TimeSpan.FromSeconds(20),
                    $"{reader.DeclaringType!.Name}.{reader.Name} hangs"
                );
            }
        }
    }
}
