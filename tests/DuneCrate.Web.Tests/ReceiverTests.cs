using System.Net;
using System.Net.Http.Headers;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using DuneCrate.Crates;
using DuneCrate.Foundation.Storage;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using NetVips;

namespace DuneCrate.Web.Tests;

/// <summary>Receivers: their cards, crates as they want them, and what they answer.</summary>
public class ReceiverTests(AppFixture app) : IClassFixture<AppFixture>
{
    private static readonly (string, string)[] TideRoom =
    [
        ("id", "0"),
        ("name", "Tide Room"),
        ("contact", "desk@tideroom.example"),
        ("files", "PerPass"),
        ("compression", "zips"),
        ("window", "AsItIs"),
        ("type.Light", "float"),
        ("firstFrame", "1"),
        ("drop", "uv"),
        ("group.layer", "sub"),
        ("group", "foreground"),
        ("short.pass", "direct_diffuse"),
        ("short", "dif"),
    ];

    private static (string, string)[] With(string field, string text) => [.. TideRoom.Where(f => f.Item1 != field), (field, text)];

    [Theory]
    [InlineData("name", "", "A receiver needs a name.")]
    [InlineData("layout", "../{short}.{frame}", "without empty, . or .. steps")]
    [InlineData("layout", "{depth}", "{depth} is not a token")]
    [InlineData("firstFrame", "soon", "The first frame is a whole number, such as 1001.")]
    [InlineData("padding", "99", "padding goes from 1")]
    [InlineData("group", "../out", "leads out of its folder")]
    public async Task A_card_that_cannot_be_is_not_kept_and_what_was_typed_stays(string field, string text, string says)
    {
        string page = WebUtility.HtmlDecode((await app.PostAsync("/KELP/receivers", "", With(field, text))).Text);
        Assert.Contains(says, page);
        Assert.Contains("Nothing was kept yet", page);
        Assert.Contains("desk@tideroom.example", page);
        Assert.DoesNotContain(
            await app.Service<ReceiverStore>().ReceiversAsync("KELP"),
            r => r.Name == "" || r.Recipe.Contains(text + "\"")
        );
    }

    /// <summary>Whatever becomes of the renders, the receiver sees what is in the crate.</summary>
    private async Task PicturesAreTheCratesAsync(string handed, CrateRow crate)
    {
        string page = WebUtility.HtmlDecode(await app.GetAsync(handed)),
            pass = "/KELP/RC010/picture.png?layer=sub&pass=direct_diffuse";
        string[] pictures = [.. Regex.Matches(page, "<img [^>]*src=\"([^\"]+)\"").Select(m => m.Groups[1].Value)];
        byte[] rendered = await app.Client.GetByteArrayAsync($"{pass}&frame=1002&width=64");
        string renders = Path.Combine(app.Renders, "RC010");
        Directory.Move(renders, renders + ".away");
        Assert.Equal(HttpStatusCode.NotFound, (await app.Client.GetAsync($"{pass}&frame=1002&width=64")).StatusCode);
        Assert.Equal(rendered, await app.Client.GetByteArrayAsync($"{pass}&frame=1002&width=64&from=crate/{crate.Id}"));
        Assert.Equal(CrateVerifier.ManifestOf(StorageRoot.At(crate.Path!).Top)!.Passes.Length + 1, pictures.Length);
        foreach (string address in pictures)
        {
            using Image picture = Image.NewFromBuffer(await app.Client.GetByteArrayAsync(address));
            Assert.Equal((64, 36), (picture.Width, picture.Height));
        }

        Directory.Move(renders + ".away", renders);
        string minus = Uri.EscapeDataString($"sub|direct_diffuse|1002|crate/{crate.Id}"),
            apart = await app.GetAsync($"/KELP/RC010/apart?layer=sub&pass=direct_diffuse&frame=1002&minus={minus}");
        Assert.True((bool)JsonNode.Parse(apart)!["equal"]!, apart);
    }

    [Fact]
    public async Task A_crate_is_made_as_its_receiver_wants_it_and_answered()
    {
        Assert.Contains("Tide Room is kept", (await app.PostAsync("/KELP/receivers", "", TideRoom)).Text);
        Assert.Contains("Another receiver is called Tide Room", (await app.PostAsync("/KELP/receivers", "", TideRoom)).Text);
        var store = app.Service<ShowStore>();
        ReceiverRow receiver = (await app.Service<ReceiverStore>().ReceiversAsync("KELP")).Single(r => r.Name == "Tide Room");

        await app.AddShotAsync("RC010");
        await app.CheckAsync("RC010");
        string page = WebUtility.HtmlDecode(await app.GetAsync($"/KELP/RC010/crate?for={receiver.Id}"));
        Assert.Contains("Wants a file per pass; compression zips; light as float; frames from 1 on; no uv.", page);
        Assert.Contains("foreground/", page);
        Assert.Contains("sub_dif/sub_dif.####.exr", page);

        await SealAsync(receiver.Id, isDelta: false, count: 1);
        ShotRow shot = (await store.ShotAsync("KELP", "RC010"))!;
        CrateRow crate = (await app.Service<CrateStore>().CratesAsync(shot.Id))[0];
        Assert.Equal("Tide Room", crate.Receiver);
        string info = Tool.Run("exrinfo", Path.Combine(crate.Path!, "foreground/sub_dif/sub_dif.0001.exr"));
        Assert.Contains("compression: 'zips'", info);
        Assert.Contains("'R': float", info);

        // The receiver's page: what it holds, one file with a range, one pass, and back it goes.
        string handed = $"/KELP/RC010/crates/{crate.Id}";
        Assert.Contains("for Tide Room", await app.GetAsync(handed));
        await PicturesAreTheCratesAsync(handed, crate);
        byte[] file = await File.ReadAllBytesAsync(Path.Combine(crate.Path!, "foreground/sub_dif/sub_dif.0002.exr"));
        using var some = new HttpRequestMessage(HttpMethod.Get, $"{handed}?handler=File&path=foreground/sub_dif/sub_dif.0002.exr");
        some.Headers.Range = new RangeHeaderValue(100, 199);
        using HttpResponseMessage range = await app.Client.SendAsync(some);
        Assert.Equal(HttpStatusCode.PartialContent, range.StatusCode);
        Assert.Equal(file[100..200], await range.Content.ReadAsByteArrayAsync());
        foreach (string outside in (string[])["../RC010_crate_v001/crate.json", "/etc/hostname", "none.exr"])
        {
            string address = $"{handed}?handler=File&path={Uri.EscapeDataString(outside)}";
            Assert.Equal(HttpStatusCode.NotFound, (await app.Client.GetAsync(address)).StatusCode);
        }

        using var zip = new System.IO.Compression.ZipArchive(
            await app.Client.GetStreamAsync($"{handed}?handler=Zip&files={Uri.EscapeDataString("foreground/sub_dif/sub_dif.####.exr")}")
        );
        Assert.Equal(4, zip.Entries.Count);

        Assert.Contains("Say what is wrong", (await app.PostAsync(handed, "?handler=SendBack", ("what", ""), ("words", " "))).Text);
        Assert.Contains(
            "There is no such pass",
            (await app.PostAsync(handed, "?handler=SendBack", ("what", "sub|nothing"), ("words", "dark"))).Text
        );
        (string back, _) = await app.PostAsync(
            handed,
            "?handler=SendBack",
            ("what", "sub|direct_diffuse"),
            ("frames", "2-3"),
            ("words", "the bow flickers"),
            ("by", "Cosima Vale")
        );
        Assert.Contains("data-answer=\"SentBack\"", back);
        page = await app.GetAsync("/KELP/RC010/crate");
        Assert.Contains("the bow flickers", page);
        Assert.Contains("1002-1003", page);

        // The next crate for the same receiver answers it; a delta holds what differs, which is nothing here.
        await SealAsync(receiver.Id, isDelta: true, count: 2);
        CrateRow next = (await app.Service<CrateStore>().CratesAsync(shot.Id))[0];
        Assert.Equal(crate.Id, next.OntoId);
        CrateProof proof = CrateVerifier.Verify(StorageRoot.At(next.Path!).Top, next.SumsDigest, default);
        Assert.True(proof.IsWhole);
        Assert.Equal(crate.Name, proof.Manifest.Onto!.Name);
        Assert.Equal(next.Name, (await app.Service<ReceiverStore>().RemarksAsync(shot.Id)).Single().AnsweredBy);
        page = await app.GetAsync($"/KELP/RC010/crates/{next.Id}");
        Assert.Contains($"New since {crate.Name}: nothing", page);
        Assert.Contains("It answers 1 remark on earlier crates", page);
        (string accepted, _) = await app.PostAsync($"/KELP/RC010/crates/{next.Id}", "?handler=Accept", ("by", "Cosima Vale"));
        Assert.Contains("data-answer=\"Accepted\"", accepted);

        await app.PostAsync("/KELP/receivers", "?handler=Remove", ("id", $"{receiver.Id}"));
        Assert.DoesNotContain(await app.Service<ReceiverStore>().ReceiversAsync("KELP"), r => r.Id == receiver.Id);
        Assert.Equal("Tide Room", (await app.Service<CrateStore>().CrateAsync(shot.Id, crate.Id))!.Receiver);
    }

    private async Task SealAsync(int receiver, bool isDelta, int count)
    {
        await app.PostAsync(
            "/KELP/RC010/crate",
            "?handler=Seal",
            ("by", "Ada Reed"),
            ("layout", "layers"),
            ("for", $"{receiver}"),
            ("isDelta", isDelta ? "true" : "false")
        );
        await app.UntilAsync(
            "/KELP/RC010/crate",
            text => text.Split("Whole, read back").Length > count && !text.Contains("being sealed<", StringComparison.Ordinal)
        );
    }
}
