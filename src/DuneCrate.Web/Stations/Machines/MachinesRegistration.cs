using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Engine;
using DuneCrate.Foundation.Documents;
using DuneCrate.Shots.Roots;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;

namespace DuneCrate.Web.Stations.Machines;

/// <summary>Chooses who opens files: this process, or the workers of an engine.</summary>
public static class MachinesRegistration
{
    private const int SiteDigits = 8;

    /// <summary>Adds the gatherer, and the machines behind it.</summary>
    public static IServiceCollection AddMachines(this IServiceCollection services, EngineOptions? engine) =>
        engine is null
            ? services.AddSingleton<IFactsGatherer>(GatheringHere.Shared).AddSingleton<IMachines>(NoMachines.Shared)
            : services
                .AddSingleton(s => Make(s, engine))
                .AddSingleton<IFactsGatherer>(s => s.GetRequiredService<EngineGatherer>())
                .AddSingleton<IMachines>(s => s.GetRequiredService<EngineGatherer>());

    private static EngineGatherer Make(IServiceProvider services, EngineOptions engine)
    {
        ILogger log = services.GetRequiredService<ILoggerFactory>().CreateLogger("DuneCrate.Machines");
        var gatherer = new EngineGatherer(
            engine with
            {
                Clock = services.GetRequiredService<TimeProvider>(),
            },
            new EngineNames(Site(services.GetRequiredService<DataFolder>())),
            services.GetRequiredService<StorageRoots>().Places,
            services.GetRequiredService<FactsStore>(),
            line => log.LogWarning("{Engine}", VisibleText.Clean(line.ReplaceLineEndings(" ")))
        );
        gatherer.Start();
        return gatherer;
    }

    /// <summary>The name under which this installation uses engines: made once, and kept with its data.</summary>
    private static string Site(DataFolder data)
    {
        string file = data.At(DataFolder.Site);
        if (File.Exists(file) && File.ReadAllText(file).Trim() is var kept && EngineNames.Problem(kept) is null)
        {
            return kept;
        }

        string made = Guid.NewGuid().ToString("N")[..SiteDigits];
        File.WriteAllText(file, made + "\n");
        return made;
    }
}
