using System.Net;

namespace DuneCrate.Web.Tests;

/// <summary>The longest shot that may be planned: every page answers.</summary>
public class LongShotTests(AppFixture app) : IClassFixture<AppFixture>
{
    private const string Code = "LS010";

    [Theory]
    [InlineData("plan")]
    [InlineData("plan/estimate")]
    [InlineData("receive")]
    [InlineData("receive?handler=Arrivals")]
    [InlineData("check")]
    [InlineData("check?handler=Report")]
    [InlineData("check?handler=Csv")]
    [InlineData("check?handler=Page")]
    [InlineData("check?handler=Rerun")]
    [InlineData("check?handler=Rerun&form=text&chunk=5")]
    [InlineData("look")]
    [InlineData("stack")]
    [InlineData("crate")]
    public async Task Pages_of_the_longest_shot_answer(string page)
    {
        if (await app.Service<DuneCrate.Store.ShowStore>().ShotAsync("KELP", Code) is null)
        {
            await app.AddShotAsync(Code);
            await app.EditAsync(Code, 0, new Planning.Edits.SetShot { Frames = "1-1000000" });
            await app.CheckAsync(Code);
        }

        using HttpResponseMessage answer = await app.Client.GetAsync($"/KELP/{Code}/{page}");
        Assert.True(
            answer.StatusCode is HttpStatusCode.OK or HttpStatusCode.UnprocessableEntity or HttpStatusCode.BadRequest,
            $"{(int)answer.StatusCode} {await answer.Content.ReadAsStringAsync()}"
        );
        Assert.NotEmpty(await answer.Content.ReadAsByteArrayAsync());
    }
}
