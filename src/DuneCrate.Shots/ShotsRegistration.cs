using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Live;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Receiving;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Stacking;
using DuneCrate.Shots.Views;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Shots;

/// <summary>Puts into an application what its stations share.</summary>
public static class ShotsRegistration
{
    /// <summary>Adds the services of shots: their state, their pictures, and the work that goes on behind pages.</summary>
    public static IServiceCollection AddShots(this IServiceCollection services)
    {
        services.AddSingleton<StorageRoots>().AddSingleton<ShowGrounds>().AddSingleton<LowPriorityScheduler>().AddSingleton<ShotEvents>();
        services.AddWork<WarmUp>();
        services.AddSingleton<CheckRequests>().AddSingleton<ReportIntakes>().AddSingleton<ShotCheck>().AddSingleton<ShotViews>();
        services.AddSingleton<RunningChecks>().AddWork<CheckQueue>().AddSingleton<FileRenamer>();
        services.AddSingleton<FrameSources>().AddSingleton<PictureService>().AddSingleton<ProxyStore>().AddWork<ProxyMaker>();
        services.AddSingleton<PlanEditor>().AddSingleton<StandInFarm>().AddWork<ArrivalWatch>();
        services.AddSingleton<SealedFolders>().AddSingleton<GuestLinks>().AddSingleton<SlimmingTrials>();
        services.AddSingleton<PreflightGate>().AddSingleton<CrateMaterial>().AddSingleton<CrateSealing>().AddSingleton<CrateReading>();
        services.AddSingleton<CrateSending>().AddSingleton<CrateNews>().AddSingleton<RunningCrates>().AddWork<CrateQueue>();
        services.AddSingleton<StackSources>().AddSingleton<StackPictures>().AddSingleton<BitsPictures>();
        return services.AddSingleton<RunningComposites>().AddWork<CompositeQueue>();
    }

    /// <summary>Adds what works in the background and is asked by others.</summary>
    public static IServiceCollection AddWork<T>(this IServiceCollection services)
        where T : class, IHostedService => services.AddSingleton<T>().AddHostedService(s => s.GetRequiredService<T>());
}
