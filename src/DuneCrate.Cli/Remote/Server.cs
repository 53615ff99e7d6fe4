using System.Net.Http.Headers;
using System.Text.Json;
using DuneCrate.Core.Checks.Reports;
using DuneCrate.Core.Intake;

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
    /// <exception cref="IOException">The server does not answer, refuses, or cannot check.</exception>
    public async Task<CheckReport> CheckAsync(FactsDepth depth, CancellationToken cancel)
    {
        using var client = new HttpClient { BaseAddress = Address };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", Token);
        string asked = await SendAsync(
            client,
            HttpMethod.Post,
            $"checks?depth={(depth == FactsDepth.Pixels ? "pixels" : "header")}",
            cancel
        );
        int id = JsonDocument.Parse(asked).RootElement.GetProperty("check").GetInt32();
        using var timer = new PeriodicTimer(Pace);
        for (string state = ""; state != "done"; )
        {
            await timer.WaitForNextTickAsync(cancel);
            JsonElement now = JsonDocument.Parse(await SendAsync(client, HttpMethod.Get, $"checks/{id}", cancel)).RootElement;
            state = now.GetProperty("state").GetString() ?? "";
            if (state is "failed" or "stopped")
            {
                throw new NotSupportedException(
                    now.GetProperty("problem").GetString() ?? $"the check of {Shot} was stopped on the server; ask once more."
                );
            }
        }

        return CheckReport.Read(await SendAsync(client, HttpMethod.Get, $"report?check={id}", cancel));
    }

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
