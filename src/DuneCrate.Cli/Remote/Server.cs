using System.Net.Http.Headers;
using System.Text.Json;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;

namespace DuneCrate.Cli.Remote;

/// <summary>A Dune Crate server that a token is for.</summary>
/// <param name="Address">Its address.</param>
/// <param name="Show">Code of the show.</param>
/// <param name="Shot">Code of the shot.</param>
/// <param name="Token">The token.</param>
internal sealed record Server(Uri Address, string Show, string Shot, string Token)
{
    private static readonly TimeSpan Pace = TimeSpan.FromMilliseconds(500);

    /// <summary>Has the shot checked and waits for the report.</summary>
    /// <exception cref="NotSupportedException">The server does not answer, refuses, or cannot check.</exception>
    public async Task<CheckReport> CheckAsync(FactsDepth depth, CancellationToken cancel)
    {
        using HttpClient client = Client();
        JsonElement asked = await AskAsync(
            client,
            HttpMethod.Post,
            $"checks?depth={(depth == FactsDepth.Pixels ? "pixels" : "header")}",
            cancel
        );
        int id = asked.GetProperty("check").GetInt32();
        await UntilAsync(client, $"checks/{id}", IsDone, cancel);
        return CheckReport.Read(await SendAsync(client, HttpMethod.Get, $"report?check={id}", cancel));
    }

    /// <summary>Has a crate sealed and waits for its end.</summary>
    /// <returns>Name of the crate, or why it was not sealed.</returns>
    /// <exception cref="NotSupportedException">The server does not answer, or refuses.</exception>
    public async Task<(string? Name, string? Problem)> SealAsync(string layout, CancellationToken cancel)
    {
        using HttpClient client = Client();
        JsonElement asked = await AskAsync(client, HttpMethod.Post, $"crates?layout={Uri.EscapeDataString(layout)}", cancel);
        JsonElement end = await UntilAsync(
            client,
            $"crates/{asked.GetProperty("crate").GetInt32()}",
            now => Text(now, "state") is "done" or "failed" or "stopped",
            cancel
        );
        return (Text(end, "name"), Text(end, "problem"));
    }

    /// <summary>Has a crate read back and waits for the end.</summary>
    /// <returns>What is not whole; empty when it is.</returns>
    /// <exception cref="NotSupportedException">The server does not answer, refuses, or has no such crate.</exception>
    public async Task<string[]> VerifyAsync(string crate, CancellationToken cancel)
    {
        using HttpClient client = Client();
        JsonElement[] all = [.. (await AskAsync(client, HttpMethod.Get, "crates", cancel)).GetProperty("crates").EnumerateArray()];
        JsonElement found = all.FirstOrDefault(c => Text(c, "name") == crate);
        if (found.ValueKind != JsonValueKind.Object)
        {
            throw new NotSupportedException($"{Shot} has no crate {crate} on {Address}.");
        }

        int id = found.GetProperty("crate").GetInt32();
        await AskAsync(client, HttpMethod.Post, $"crates/{id}/verify", cancel);
        JsonElement end = await UntilAsync(
            client,
            $"crates/{id}",
            now => Text(now, "doing") is null && Text(now, "verified") != Text(found, "verified"),
            cancel
        );
        return [.. end.GetProperty("problems").EnumerateArray().Select(p => p.GetString()!)];
    }

    private static string? Text(JsonElement of, string name) =>
        of.TryGetProperty(name, out JsonElement value) && value.ValueKind == JsonValueKind.String ? value.GetString() : null;

    private bool IsDone(JsonElement now) =>
        Text(now, "state") is "failed" or "stopped"
            ? throw new NotSupportedException(Text(now, "problem") ?? $"the check of {Shot} was stopped on the server; ask once more.")
            : Text(now, "state") == "done";

    private HttpClient Client()
    {
        var client = new HttpClient { BaseAddress = Address };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", Token);
        return client;
    }

    private async Task<JsonElement> UntilAsync(HttpClient client, string what, Func<JsonElement, bool> isReady, CancellationToken cancel)
    {
        using var timer = new PeriodicTimer(Pace);
        while (true)
        {
            await timer.WaitForNextTickAsync(cancel);
            JsonElement now = await AskAsync(client, HttpMethod.Get, what, cancel);
            if (isReady(now))
            {
                return now;
            }
        }
    }

    private async Task<JsonElement> AskAsync(HttpClient client, HttpMethod method, string what, CancellationToken cancel) =>
        JsonDocument.Parse(await SendAsync(client, method, what, cancel)).RootElement;

    private async Task<string> SendAsync(HttpClient client, HttpMethod method, string what, CancellationToken cancel)
    {
        try
        {
            using var request = new HttpRequestMessage(method, $"/api/{Uri.EscapeDataString(Show)}/{Uri.EscapeDataString(Shot)}/{what}");
            using HttpResponseMessage answer = await client.SendAsync(request, cancel);
            string text = await answer.Content.ReadAsStringAsync(cancel);
            return answer.IsSuccessStatusCode
                ? text
                : throw new NotSupportedException(Said(text) ?? $"{Address} answered {(int)answer.StatusCode}.");
        }
        catch (HttpRequestException e)
        {
            throw new NotSupportedException(
                $"{Address} does not answer ({e.HttpRequestError}). Is the address right, and the server running?",
                e
            );
        }
    }

    private static string? Said(string text)
    {
        try
        {
            return JsonDocument.Parse(text).RootElement.TryGetProperty("problem", out JsonElement problem) ? problem.GetString() : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
