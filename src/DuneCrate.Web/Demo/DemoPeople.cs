using System.Security.Cryptography;
using DuneCrate.Foundation.Time;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Web.Demo;

/// <summary>The people of the demo. Their passwords are made anew at each start and said on the terminal; they work for the demo
/// only.</summary>
internal static class DemoPeople
{
    private static readonly (string Account, string Name, bool IsKeeper, ShowRole Role)[] All =
    [
        ("mara", "Mara Quill", true, ShowRole.Wrangler),
        ("lior", "Lior Fenn", false, ShowRole.Lighter),
        ("cosima", "Cosima Vale", false, ShowRole.Compositor),
    ];

    private static readonly string[] Words =
    [
        "anchor",
        "barnacle",
        "bollard",
        "brine",
        "buoy",
        "capstan",
        "cockle",
        "coral",
        "current",
        "dinghy",
        "driftwood",
        "eddy",
        "ferry",
        "fjord",
        "foam",
        "gannet",
        "gull",
        "harbour",
        "heron",
        "hull",
        "jetty",
        "keel",
        "kelp",
        "lagoon",
        "lantern",
        "limpet",
        "marsh",
        "mast",
        "mussel",
        "oar",
        "otter",
        "oyster",
        "pebble",
        "pelican",
        "pier",
        "plover",
        "puffin",
        "quay",
        "reef",
        "rudder",
        "sandbar",
        "seal",
        "shale",
        "shingle",
        "skiff",
        "squid",
        "tern",
        "tiller",
        "urchin",
        "whelk",
    ];

    /// <summary>Makes the people when they are not there, gives them new passwords and says them.</summary>
    public static async Task SayAsync(IServiceProvider services)
    {
        await using AsyncServiceScope scope = services.CreateAsyncScope();
        var context = scope.ServiceProvider.GetRequiredService<DuneCrateContext>();
        var users = scope.ServiceProvider.GetRequiredService<UserManager<PersonRow>>();
        TimeProvider clock = services.GetRequiredService<TimeProvider>();
        ShowRow? show = await context.Shows.FirstOrDefaultAsync(s => s.Code == "KELP");
        Console.WriteLine("People of the demo, with passwords for this run alone:");
        foreach ((string account, string name, bool isKeeper, ShowRole role) in All)
        {
            PersonRow? person = await users.FindByNameAsync(account);
            if (person is null)
            {
                person = new PersonRow
                {
                    UserName = account,
                    Name = name,
                    IsKeeper = isKeeper,
                    JoinedAt = clock.UtcNow,
                };
                await users.CreateAsync(person);
            }

            if (show is not null && !await context.Memberships.AnyAsync(m => m.PersonId == person.Id))
            {
                context.Memberships.Add(
                    new MembershipRow
                    {
                        PersonId = person.Id,
                        ShowId = show.Id,
                        Role = role,
                    }
                );
            }

            string password = string.Join('-', RandomNumberGenerator.GetItems<string>(Words, 4));
            person.PasswordHash = users.PasswordHasher.HashPassword(person, password);
            await context.SaveChangesAsync();
            Console.WriteLine(
                $"  {account, -8} {password, -36} {name}, " + $"{Foundation.Documents.Words.Choice(role)}{(isKeeper ? ", keeper" : "")}"
            );
        }

        scope.ServiceProvider.GetRequiredService<Access.People>().Forget();
    }
}
