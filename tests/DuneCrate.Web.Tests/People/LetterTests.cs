using System.Net;
using System.Net.Sockets;
using System.Text;
using DuneCrate.Shots;
using DuneCrate.Shots.Notifications;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Builder;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using MimeKit;

namespace DuneCrate.Web.Tests.People;

/// <summary>
/// Letters go out by mail, to a program and to an address, and wait where they cannot. The mail server is a stand-in that speaks as much of
/// RFC 5321 as a delivery needs; what it got is read by MimeKit (RFC 5322).
/// </summary>
public sealed class LetterTests : IAsyncLifetime
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-letters-").FullName;
    private WebApplication _app = null!;

    public ValueTask InitializeAsync() => ValueTask.CompletedTask;

    public async ValueTask DisposeAsync()
    {
        await _app.StopAsync();
        await _app.DisposeAsync();
        Directory.Delete(_folder, recursive: true);
    }

    private async Task StartAsync(string telling)
    {
        await File.WriteAllTextAsync(Path.Combine(_folder, DuneCrateApp.ConfigurationFile), $"{{ \"Notifications\": {telling} }}");
        _app = DuneCrateApp.Build(ServeOptions.ForServe(_folder, 0, "127.0.0.1", []));
        await _app.StartAsync();
        await using DuneCrateContext context = Context();
        context.Users.Add(
            new PersonRow
            {
                Name = "Mara Quill",
                UserName = "mara",
                Email = "mara@example.com",
                IsKeeper = true,
                Letters = $"{NotificationKinds.CheckEnded},{NotificationKinds.CrateSealed}",
            }
        );
        context.Users.Add(
            new PersonRow
            {
                Name = "Sol Tarn",
                UserName = "sol",
                Email = "sol@example.com",
                Letters = NotificationKinds.CrateSealed,
            }
        );
        await context.SaveChangesAsync();
    }

    private DuneCrateContext Context() => _app.Services.GetRequiredService<IDbContextFactory<DuneCrateContext>>().CreateDbContext();

    private Task TellAsync() =>
        _app
            .Services.GetRequiredService<OutboxWriter>()
            .TellAsync(
                new EventDocument
                {
                    Kind = NotificationKinds.CrateSealed,
                    At = new DateTime(2026, 11, 27, 7, 0, 0, DateTimeKind.Utc),
                    Show = "KELP",
                    Shot = "KP010",
                    What = "KP010_crate_v001 is sealed",
                    By = "Mara Quill",
                },
                "crate"
            );

    private async Task<LetterRow[]> UntilAsync(Func<LetterRow, bool> isReady)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(100));
        for (int i = 0; i < 300; i++)
        {
            await using DuneCrateContext context = Context();
            LetterRow[] letters = await context.Letters.AsNoTracking().ToArrayAsync();
            if (letters.Length > 0 && letters.All(isReady))
            {
                return letters;
            }

            await timer.WaitForNextTickAsync();
        }

        throw new TimeoutException("The letters did not go.");
    }

    [Fact]
    public async Task Mail_goes_by_the_protocol_to_those_who_want_it()
    {
        using var server = new TcpListener(IPAddress.Loopback, 0);
        server.Start();
        Task<string> got = ServeMailAsync(server);
        await StartAsync(
            $$"""
            {
              "SmtpHost": "127.0.0.1", "SmtpPort": {{((IPEndPoint)server.LocalEndpoint).Port}}, "SmtpTls": false,
              "PublicAddress": "https://crate.example.com"
            }
            """
        );
        await TellAsync();
        string session = await got;
        Assert.Contains("MAIL FROM:<dune-crate@localhost>", session);
        Assert.Contains("RCPT TO:<mara@example.com>", session);

        // Sol wants them, and has no role in the show.
        Assert.Single(await UntilAsync(l => l.SentAt is not null));
        string data = session[(session.IndexOf("DATA\r\n", StringComparison.Ordinal) + 6)..];
        using MimeMessage mail = await MimeMessage.LoadAsync(new MemoryStream(Encoding.UTF8.GetBytes(data)));
        Assert.Equal("KP010: KP010_crate_v001 is sealed", mail.Subject);
        Assert.Contains("https://crate.example.com/KELP/KP010/crate", mail.TextBody);
        Assert.Contains("by Mara Quill", mail.TextBody);
        Assert.Contains("\"schema\": \"dune-crate.event/1\"", mail.BodyParts.OfType<TextPart>().Last().Text);
    }

    /// <summary>As a mail server answers: RFC 5321, section 4.3.</summary>
    private static async Task<string> ServeMailAsync(TcpListener server)
    {
        using TcpClient client = await server.AcceptTcpClientAsync();
        using var reader = new StreamReader(client.GetStream(), Encoding.UTF8);
        await using var writer = new StreamWriter(client.GetStream()) { NewLine = "\r\n", AutoFlush = true };
        var said = new StringBuilder();
        await writer.WriteLineAsync("220 stand-in ESMTP");
        while (await reader.ReadLineAsync() is { } line)
        {
            said.Append(line).Append("\r\n");
            string verb = line.Split(' ', ':')[0].ToUpperInvariant();
            if (verb == "DATA")
            {
                await writer.WriteLineAsync("354 go on");
                while (await reader.ReadLineAsync() is { } text && text != ".")
                {
                    said.Append(text.StartsWith("..", StringComparison.Ordinal) ? text[1..] : text).Append("\r\n");
                }
            }

            await writer.WriteLineAsync(verb == "QUIT" ? "221 bye" : "250 good");
            if (verb == "QUIT")
            {
                break;
            }
        }

        return said.ToString();
    }

    [Fact]
    public async Task A_folder_a_program_and_an_address_get_the_document()
    {
        using var server = new HttpListener();
        string address;
        using (var free = new TcpListener(IPAddress.Loopback, 0))
        {
            free.Start();
            address = $"http://127.0.0.1:{((IPEndPoint)free.LocalEndpoint).Port}/told/";
        }

        server.Prefixes.Add(address);
        server.Start();
        Task<string> posted = Task.Run(async () =>
        {
            HttpListenerContext asked = await server.GetContextAsync();
            using var reader = new StreamReader(asked.Request.InputStream);
            string text = await reader.ReadToEndAsync();
            asked.Response.StatusCode = 204;
            asked.Response.Close();
            return text;
        });
        string program = Path.Combine(_folder, "told.sh"),
            drop = Path.Combine(_folder, "mail");
        await File.WriteAllTextAsync(program, $"#!/bin/sh\ncat > '{_folder}/told.json'\n");
        File.SetUnixFileMode(program, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        await StartAsync($$"""{ "DropFolder": "{{drop}}", "Program": "{{program}}", "Address": "{{address}}" }""");
        await TellAsync();
        LetterRow[] letters = await UntilAsync(l => l.SentAt is not null);
        Assert.Equal(["address", "mail", "program"], letters.Select(l => l.Way).Order(StringComparer.Ordinal));
        Assert.Equal(letters[0].Document, await posted);
        Assert.Equal("", Schemas.Complaint(Path.Combine(_folder, "event.json"), "event", letters[0].Document));
        Assert.Equal(letters[0].Document, await File.ReadAllTextAsync(Path.Combine(_folder, "told.json")));
        using MimeMessage mail = await MimeMessage.LoadAsync(Assert.Single(Directory.GetFiles(drop)));
        Assert.Equal("mara@example.com", mail.To.Mailboxes.Single().Address);
    }

    [Fact]
    public async Task What_does_not_go_out_waits_is_shown_and_is_in_nobodys_way()
    {
        await StartAsync("""{ "SmtpHost": "127.0.0.1", "SmtpPort": 1, "SmtpTls": false, "Program": "/bin/false" }""");
        await TellAsync();
        LetterRow[] letters = await UntilAsync(l => l.Problem is not null);
        Assert.All(letters, l => Assert.True(l.NextAt > DateTime.UtcNow && l.Tries == 1));
        (List<LetterRow> failed, int waiting) = await _app.Services.GetRequiredService<OutboxSender>().TroubleAsync(default);
        Assert.Equal((2, 2), (failed.Count, waiting));
        Assert.Contains(failed, l => l.Problem!.Contains("/bin/false ended with 1", StringComparison.Ordinal));
    }
}
