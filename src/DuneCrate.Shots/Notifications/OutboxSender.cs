using System.Diagnostics;
using System.Text;
using DuneCrate.Foundation.Time;
using DuneCrate.Shots.Jobs;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using MailKit.Net.Smtp;
using MailKit.Security;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;
using MimeKit;

namespace DuneCrate.Shots.Notifications;

/// <summary>
/// Takes letters out: by mail (SMTP, or into a folder), to a program, to an address. What does not go out is tried again, later each time,
/// and given up after a day.
/// </summary>
public sealed class OutboxSender(
    IDbContextFactory<DuneCrateContext> contexts,
    IOptionsMonitor<NotificationOptions> options,
    IHttpClientFactory clients,
    TimeProvider clock,
    ILogger<OutboxSender> log
) : BackgroundService
{
    private const int Concurrency = 20;

    private static readonly TimeSpan Pace = TimeSpan.FromSeconds(2),
        Patience = TimeSpan.FromSeconds(30);

    private static readonly TimeSpan[] Waits =
    [
        TimeSpan.FromSeconds(30),
        TimeSpan.FromMinutes(5),
        TimeSpan.FromMinutes(30),
        TimeSpan.FromHours(3),
        TimeSpan.FromHours(20),
    ];

    /// <summary>The newest letters that did not go out, and how many wait.</summary>
    public async Task<(List<LetterRow> Failed, int Waiting)> TroubleAsync(CancellationToken cancel)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return (
            await context
                .Letters.AsNoTracking()
                .Where(l => l.SentAt == null && l.Problem != null)
                .OrderByDescending(l => l.Id)
                .Take(Concurrency)
                .ToListAsync(cancel),
            await context.Letters.CountAsync(l => l.NextAt != null, cancel)
        );
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Pace, clock);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            await Background.DoAsync(log, "take letters out", () => CarryAsync(stoppingToken), stoppingToken);
        }
    }

    /// <summary>Takes out what is due.</summary>
    public async Task CarryAsync(CancellationToken cancel)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        DateTime now = clock.UtcNow;
        foreach (
            LetterRow letter in await context
                .Letters.Where(l => l.NextAt != null && l.NextAt <= now)
                .OrderBy(l => l.Id)
                .Take(Concurrency)
                .ToListAsync(cancel)
        )
        {
            string? problem = await TryAsync(letter, cancel);
            letter.Tries++;
            (letter.Problem, letter.SentAt, letter.NextAt) =
                problem is null ? (null, clock.UtcNow, null)
                : letter.Tries <= Waits.Length ? (problem, null, clock.UtcNow + Waits[letter.Tries - 1])
                : (problem, (DateTime?)null, (DateTime?)null);
            await context.SaveChangesAsync(cancel);
        }
    }

    /// <summary>Tries a letter.</summary>
    /// <returns>Why it did not go out, or null.</returns>
    private async Task<string?> TryAsync(LetterRow letter, CancellationToken cancel)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        patience.CancelAfter(Patience);
        NotificationOptions now = options.CurrentValue;
        try
        {
            return letter.Way switch
            {
                OutboxWriter.Mail => await MailAsync(letter, now, patience.Token),
                OutboxWriter.Program => await ProgramAsync(letter, now, patience.Token),
                _ => await PostAsync(letter, now, patience.Token),
            };
        }
        catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
        {
            return $"no answer within {Patience.TotalSeconds:0} seconds";
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            return Reason(e);
        }
    }

    /// <summary>Why it did not go out, in our own words: what libraries say of it is in the log.</summary>
    private string Reason(Exception failure)
    {
        log.LogWarning(failure, "A letter did not go out");
        return failure switch
        {
            MailKit.Security.AuthenticationException => "the mail server does not take this name and password",
            MailKit.Security.SslHandshakeException => "the mail server and this program do not agree on TLS",
            MailKit.Net.Smtp.SmtpCommandException refused => $"the mail server refused it (code {(int)refused.StatusCode})",
            MailKit.ServiceNotAuthenticatedException => "the mail server asks for a name and password",
            System.Net.Sockets.SocketException or { InnerException: System.Net.Sockets.SocketException } =>
                "nobody answers at that address",
            HttpRequestException { StatusCode: { } status } => $"the address answered {(int)status}",
            HttpRequestException => "the address could not be reached",
            System.ComponentModel.Win32Exception => "the program cannot be started",
            UriFormatException or FormatException => "its address is none",
            _ => $"it could not be sent ({failure.GetType().Name})",
        };
    }

    private static async Task<string?> MailAsync(LetterRow letter, NotificationOptions now, CancellationToken cancel)
    {
        using MimeMessage message = Message(letter, now);
        if (now.DropFolder is { Length: > 0 } folder)
        {
            Directory.CreateDirectory(folder);
            string file = Path.Combine(folder, $"{letter.Id:000000}.eml");
            await message.WriteToAsync(file + ".partial", cancel);
            File.Move(file + ".partial", file, overwrite: true);
            return null;
        }

        if (now.SmtpHost is not { Length: > 0 } host)
        {
            return "no mail server is configured any more";
        }

        using var client = new SmtpClient { Timeout = (int)Patience.TotalMilliseconds };
        await client.ConnectAsync(host, now.SmtpPort, now.SmtpTls ? SecureSocketOptions.Auto : SecureSocketOptions.None, cancel);
        if (now.SmtpTls && !client.IsSecure)
        {
            return $"{host} offers no encryption; set Notifications:SmtpTls to false only for a server on this machine";
        }

        if (now is { SmtpUser: { Length: > 0 } user, SmtpPasswordFile: { Length: > 0 } secret })
        {
            await client.AuthenticateAsync(user, (await File.ReadAllTextAsync(secret, cancel)).Trim(), cancel);
        }

        await client.SendAsync(message, cancel);
        await client.DisconnectAsync(quit: true, cancel);
        return null;
    }

    private static MimeMessage Message(LetterRow letter, NotificationOptions now)
    {
        EventDocument happened = EventDocument.Read(letter.Document);
        var message = new MimeMessage { Subject = letter.Subject, Date = letter.At };
        message.From.Add(MailboxAddress.Parse(now.From));
        message.To.Add(MailboxAddress.Parse(letter.To));
        string where = happened.Address is { } address ? $"\n{address}\n" : "";
        message.Body = new Multipart("mixed")
        {
            new TextPart("plain")
            {
                Text =
                    $"{happened.Show} {happened.Shot}: {happened.What}{(happened.By is { } by ? $"\nby {by}" : "")}\n{where}\n"
                    + "You chose to be told of this; change it on your account’s page.\n",
            },
            new TextPart("json") { Text = letter.Document, FileName = "event.json" },
        };
        return message;
    }

    private static async Task<string?> ProgramAsync(LetterRow letter, NotificationOptions now, CancellationToken cancel)
    {
        if (now.Program is not { Length: > 0 } program)
        {
            return "no program is configured any more";
        }

        using var process = new Process
        {
            StartInfo = new ProcessStartInfo(program)
            {
                RedirectStandardInput = true,
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            },
        };
        process.Start();
        try
        {
            Task<string> said = process.StandardError.ReadToEndAsync(cancel),
                rest = process.StandardOutput.ReadToEndAsync(cancel);
            await GiveAsync(process, letter.Document, cancel);
            await process.WaitForExitAsync(cancel);
            await rest;
            return process.ExitCode == 0 ? null : $"{program} ended with {process.ExitCode}: {(await said).ReplaceLineEndings(" ").Trim()}";
        }
        finally
        {
            if (!process.HasExited)
            {
                process.Kill(entireProcessTree: true);
            }
        }
    }

    /// <summary>Gives a program the document; one that does not read it is asked for its exit code all the same.</summary>
    private static async Task GiveAsync(Process process, string document, CancellationToken cancel)
    {
        try
        {
            await process.StandardInput.WriteAsync(document.AsMemory(), cancel);
            process.StandardInput.Close();
        }
        catch (IOException)
        {
            // It has closed its input, or ended.
        }
    }

    private async Task<string?> PostAsync(LetterRow letter, NotificationOptions now, CancellationToken cancel)
    {
        if (now.Address is not { Length: > 0 } address)
        {
            return "no address is configured any more";
        }

        using HttpClient client = clients.CreateClient();
        using var body = new StringContent(letter.Document, Encoding.UTF8, "application/json");
        using HttpResponseMessage answer = await client.PostAsync(new Uri(address), body, cancel);
        return answer.IsSuccessStatusCode ? null : $"{address} answered {(int)answer.StatusCode}";
    }
}
