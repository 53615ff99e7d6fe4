namespace DuneCrate.Foundation.Naming;

/// <summary>Names that are not taken.</summary>
public static class FreeName
{
    /// <summary>The name, or with the first number behind it that makes it free: <c>composite</c>, <c>composite 2</c>.</summary>
    public static string Of(string name, IReadOnlySet<string> taken) =>
        Enumerable.Range(1, taken.Count + 1).Select(i => i == 1 ? name : $"{name} {i}").First(n => !taken.Contains(n));
}
