using DuneCrate.Foundation.Time;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace DuneCrate.Shots.Notifications;

/// <summary>Writes letters to those who want them; <see cref="OutboxSender"/> takes them out. Never in the way: what cannot be written
/// down is logged.</summary>
public sealed class OutboxWriter(
    IDbContextFactory<DuneCrateContext> contexts,
    IOptionsMonitor<NotificationOptions> options,
    TimeProvider clock,
    ILogger<OutboxWriter> log
)
{
    /// <summary>Ways that a letter can go.</summary>
    internal const string Mail = "mail",
        Program = "program",
        Address = "address";

    /// <summary>Tells of something.</summary>
    /// <param name="happened">What; its address is put in here.</param>
    /// <param name="page">Page of the shot to look at, such as "check".</param>
    public async Task TellAsync(EventDocument happened, string page)
    {
        NotificationOptions now = options.CurrentValue;
        if (!now.HasMail && now.Program is null && now.Address is null)
        {
            return;
        }

        try
        {
            happened = happened with
            {
                Address = now.PublicAddress is { Length: > 0 } own ? $"{own.TrimEnd('/')}/{happened.Show}/{happened.Shot}/{page}" : null,
            };
            await using DuneCrateContext context = await contexts.CreateDbContextAsync();
            foreach ((string way, string to) in await ReceiversAsync(context, now, happened))
            {
                context.Letters.Add(
                    new LetterRow
                    {
                        Kind = happened.Kind,
                        Way = way,
                        To = to,
                        Subject = $"{happened.Shot}: {happened.What}",
                        Document = happened.Write(),
                        At = clock.UtcNow,
                        NextAt = clock.UtcNow,
                    }
                );
            }

            await context.SaveChangesAsync();
        }
        catch (Exception e)
        {
            log.LogError(e, "Nobody could be told that {Shot}: {What}", happened.Shot, happened.What);
        }
    }

    private static async Task<List<(string Way, string To)>> ReceiversAsync(
        DuneCrateContext context,
        NotificationOptions now,
        EventDocument happened
    )
    {
        List<(string, string)> receivers = [];
        if (now.HasMail)
        {
            List<PersonRow> people = await context
                .Users.AsNoTracking()
                .Where(p => p.ClosedAt == null && p.Email != null)
                .Where(p => p.IsKeeper || p.Memberships.Any(m => m.Show.Code == happened.Show))
                .ToListAsync();
            receivers.AddRange(people.Where(p => p.Letters.Split(',').Contains(happened.Kind)).Select(p => (Mail, p.Email!)));
        }

        if (now.Program is { Length: > 0 })
        {
            receivers.Add((Program, ""));
        }

        if (now.Address is { Length: > 0 })
        {
            receivers.Add((Address, ""));
        }

        return receivers;
    }
}
