using System.Net;
using System.Net.Http.Headers;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using DuneCrate.Store.Keeping;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// Tokens of scripts, by the command line and as <c>curl</c> sends them. Source: RFC 6750 (bearer tokens); OWASP ASVS 5.0, V9 and V13.
/// </summary>
public sealed class TokenTests(PeopleFixture app) : IClassFixture<PeopleFixture>
{
    private async Task<string> MakeAsync(HttpClient mara, string name)
    {
        using HttpResponseMessage made = await PeopleFixture.PostAsync(mara, "/KELP/tokens", "/KELP/tokens?handler=Make", ("name", name));
        string token = Regex.Match(await PeopleFixture.TextAsync(made), "value=\"(dune_[^\"]+)\"").Groups[1].Value;
        Assert.NotEmpty(token);
        return token;
    }

    private static string Curl(params string[] arguments) => Tool.Run("curl", ["-s", .. arguments]);

    [Fact]
    public async Task A_script_asks_for_a_check_and_fetches_its_report()
    {
        using HttpClient mara = await app.SignInAsync("mara");
        string token = await MakeAsync(mara, "farm at the quay"),
            address = mara.BaseAddress!.ToString().TrimEnd('/'),
            header = $"Authorization: Bearer {token}";
        Assert.Contains("KP010", Curl("-H", header, $"{address}/api/KELP/shots"));
        Assert.Equal(
            "202",
            Curl("-o", "/dev/null", "-w", "%{http_code}", "-X", "POST", "-H", header, $"{address}/api/KELP/KP010/arrivals")
        );
        int check = JsonNode.Parse(Curl("-X", "POST", "-H", header, $"{address}/api/KELP/KP010/checks?depth=pixels"))![
            "check"
        ]!.GetValue<int>();
        string state = "";
        for (int i = 0; i < 300 && state != "done"; i++)
        {
            state = JsonNode.Parse(Curl("--retry", "3", "-H", header, $"{address}/api/KELP/KP010/checks/{check}"))![
                "state"
            ]!.GetValue<string>();
        }

        JsonNode report = JsonNode.Parse(Curl("-H", header, $"{address}/api/KELP/KP010/report"))!;
        Assert.Equal(("dune-crate.report/1", "pixels"), (report["schema"]!.GetValue<string>(), report["depth"]!.GetValue<string>()));
        Assert.Contains("\"schema\"", Curl("-H", header, $"{address}/api/KELP/KP010/rerun"));

        // The command line does the same, and says what it says of a folder here.
        string file = Path.Combine(Path.GetDirectoryName(app.Data)!, "token");
        await File.WriteAllTextAsync(file, token);
        string[] said = ["--json", "-", "--depth", "pixels"];
        var there = CommandLine.Dune(["check", "--server", address, "--token-file", file, "--shot", "KELP/KP010", .. said]);
        Assert.True(there.Code is 0 or 1, there.Error);
        Assert.Equal(report["findings"]!.ToJsonString(), JsonNode.Parse(there.Output)!["findings"]!.ToJsonString());

        string[] server = ["--server", address, "--token-file", file, "--shot", "KELP/KP010"];
        var made = CommandLine.Dune(["crate", .. server]);
        Assert.Equal((0, "KP010_crate_v001"), (made.Code, made.Output.Trim()));
        var whole = CommandLine.Dune(["verify", "KP010_crate_v001", .. server]);
        Assert.True(whole.Code == 0, whole.Output + whole.Error);
        string changed = Path.Combine(app.Data, "crates", "KELP", "KP010", "KP010_crate_v001", "slip.html");
        File.SetUnixFileMode(changed, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        await File.AppendAllTextAsync(changed, " ");
        var broken = CommandLine.Dune(["verify", "KP010_crate_v001", .. server]);
        Assert.Equal(1, broken.Code);
        Assert.Contains("slip.html was changed", broken.Output);
        Assert.Equal(2, CommandLine.Dune(["verify", "KP010_crate_v009", .. server]).Code);

        string page = await mara.GetStringAsync("/KELP/tokens");
        Assert.Contains("farm at the quay", page);
        Assert.Contains("just now", page);
    }

    [Fact]
    public async Task It_is_for_one_show_is_kept_as_a_hash_and_ends_when_it_is_taken_back()
    {
        using HttpClient mara = await app.SignInAsync("mara");
        string token = await MakeAsync(mara, "other farm");
        using HttpClient script = app.Browser();
        script.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        Assert.Equal(HttpStatusCode.OK, (await script.GetAsync("/api/KELP/shots")).StatusCode);
        using HttpResponseMessage elsewhere = await script.GetAsync("/api/REEF/shots");
        Assert.Equal(HttpStatusCode.Forbidden, elsewhere.StatusCode);
        Assert.Contains("another show", await elsewhere.Content.ReadAsStringAsync());

        // It opens no page.
        Assert.StartsWith("/sign-in", (await script.GetAsync("/KELP/KP010/check")).Headers.Location!.ToString());
        string database = Path.Combine(app.Data, DataFolder.Database);
        Assert.DoesNotContain(token, Tool.Run("sqlite3", database, "SELECT Hash, Name FROM tokens"));
        string id = Tool.Run("sqlite3", database, "SELECT Id FROM tokens WHERE Name = 'other farm'").Trim();
        (await PeopleFixture.PostAsync(mara, "/KELP/tokens", "/KELP/tokens?handler=Revoke", ("id", id))).Dispose();
        using HttpResponseMessage after = await script.GetAsync("/api/KELP/shots");
        Assert.Equal(HttpStatusCode.Unauthorized, after.StatusCode);
        Assert.Equal("Bearer", after.Headers.WwwAuthenticate.Single().Scheme);
    }

    [Fact]
    public void The_command_line_says_what_is_missing()
    {
        (string[] Arguments, string Words)[] wrong =
        [
            (["check", "--server", "nowhere", "--shot", "KELP/KP010"], "is not the address of a server"),
            (["check", "--server", "http://127.0.0.1:1", "--shot", "KP010"], "--shot KELP/KP010"),
            (["check", "--server", "http://127.0.0.1:1", "--shot", "KELP/KP010"], "wants a token"),
            (["check"], "Name the folder"),
            (["crate", "--to", "somewhere"], "--plan FILE --from FOLDER --to DIR"),
        ];
        foreach ((string[] arguments, string words) in wrong)
        {
            (int code, _, string said) = CommandLine.Dune(arguments);
            Assert.Equal(2, code);
            Assert.Contains(words, said);
        }
    }
}
