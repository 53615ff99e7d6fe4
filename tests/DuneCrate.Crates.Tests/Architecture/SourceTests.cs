using System.Text.RegularExpressions;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Rules;

namespace DuneCrate.Crates.Tests.Architecture;

/// <summary>How the sources read: what a formatter and a compiler do not hold.</summary>
public partial class SourceTests
{
    private const int LongestLine = 140,
        MostLines = 400;

    /// <summary>The folder of the repository.</summary>
    [Fact]
    public void No_line_is_longer_than_the_editor_config_says()
    {
        Assert.Contains($"max_line_length = {LongestLine}", File.ReadAllText(Path.Combine(Repository.Root, ".editorconfig")));
        AssertNone(
            from file in Sources(".cs", ".cshtml", ".js")
            from line in File.ReadLines(file).Index()
            where line.Item.Length > LongestLine
            select $"{Name(file)}:{line.Index + 1} has {line.Item.Length} characters"
        );
    }

    /// <summary>What is installed is told by name, version and hash; where from is each machine's own affair.</summary>
    [Fact]
    public void Lock_files_hold_no_addresses() =>
        AssertNone(
            from file in Directory
                .EnumerateFiles(Repository.Root, "*lock*.json", SearchOption.AllDirectories)
                .Where(f => !Written().IsMatch(f))
            where File.ReadAllText(file).Contains("://", StringComparison.Ordinal)
            select Name(file)
        );

    [Fact]
    public void No_file_has_more_lines_than_one_can_keep_in_mind() =>
        AssertNone(Sources(".cs", ".cshtml", ".js").Where(f => File.ReadLines(f).Count() > MostLines).Select(Name));

    [Fact]
    public void A_file_holds_one_type_and_carries_its_name() =>
        AssertNone(
            from file in Sources(".cs")
            where !file.EndsWith("Program.cs", StringComparison.Ordinal) && Name(file).StartsWith("src/", StringComparison.Ordinal)
            let types = TopLevelType().Matches(File.ReadAllText(file)).Select(m => m.Groups[1].Value).ToArray()
            let expected = Path.GetFileName(file).Replace(".cshtml.cs", "Model", StringComparison.Ordinal).Split('.')[0]
            where
                types.Length != 1 || (types[0] != expected && types[0] != expected.Replace("Model", "PageModel", StringComparison.Ordinal))
            select $"{Name(file)}: {string.Join(", ", types)}"
        );

    [Fact]
    public void No_type_is_called_by_the_name_of_a_namespace()
    {
        var names = Rooms.Types.Select(t => t.Namespace ?? "").SelectMany(n => n.Split('.')).ToHashSet();
        Assert.Empty(Rooms.Types.Where(t => !t.IsNested && names.Contains(t.Name)).Select(t => t.FullName));
    }

    [Fact]
    public void A_rule_is_named_in_its_own_class_alone()
    {
        string[] ids = [.. RuleBook.All.Concat<Rule>(PlanRuleBook.All).Select(r => $"\"{r.Id}\"")];
        AssertNone(
            from file in Sources(".cs", ".cshtml", ".js")
            where IsProduct(file)
            let text = File.ReadAllText(file)
            from id in ids
            where text.Contains(id, StringComparison.Ordinal) && !text.Contains($"Id => {id}", StringComparison.Ordinal)
            where id != "\"plan.json\""
            select $"{Name(file)} names {id}"
        );
    }

    [Fact]
    public void A_pass_is_named_in_its_entry_alone()
    {
        // Words that are passes and other things, too.
        string[] ambiguous = ["background", "alpha", "depth", "normal", "position", "volume", "shadow", "motion", "coat"];
        string[] keys = [.. PassCatalogue.Shipped.Passes.Select(p => p.Stem).Except(ambiguous).Select(k => $"\"{k}\"")];
        string[] entries = ["ShippedPasses.cs", "FormerKeys.cs", "PassKeys.cs"];
        AssertNone(
            from file in Sources(".cs", ".cshtml", ".js")
            where IsProduct(file) && !entries.Contains(Path.GetFileName(file))
            let text = File.ReadAllText(file)
            from key in keys
            where text.Contains(key, StringComparison.Ordinal)
            select $"{Name(file)} names {key}"
        );
    }

    /// <summary>Core, store, web and command line; the stand-ins play a renderer and know passes by name.</summary>
    private static bool IsProduct(string file) =>
        Name(file).StartsWith("src/", StringComparison.Ordinal)
        && !Name(file).StartsWith("src/DuneCrate.StandIns/", StringComparison.Ordinal)
        && !Name(file).Contains("/Demo/", StringComparison.Ordinal);

    private static void AssertNone(IEnumerable<string> wrong) => Assert.True(!wrong.Any(), string.Join('\n', wrong));

    private static IEnumerable<string> Sources(params string[] endings) =>
        ((string[])["src", "tests", "bench"])
            .SelectMany(d => Directory.EnumerateFiles(Path.Combine(Repository.Root, d), "*.*", SearchOption.AllDirectories))
            .Where(f => endings.Any(e => f.EndsWith(e, StringComparison.Ordinal)) && !Written().IsMatch(f));

    private static string Name(string file) => Path.GetRelativePath(Repository.Root, file);

    /// <summary>Folders that tools write.</summary>
    [GeneratedRegex(@"/(obj|bin|lib|Migrations|node_modules)/")]
    private static partial Regex Written();

    [GeneratedRegex(
        @"^(?:\[.*\]\s*)?(?:(?:public|internal|static|sealed|abstract|partial|readonly|file|unsafe|ref) )*"
            + @"(?:record struct|record|class|struct|interface|enum) (\w+)",
        RegexOptions.Multiline
    )]
    private static partial Regex TopLevelType();
}
