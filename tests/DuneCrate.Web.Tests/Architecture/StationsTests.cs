using ArchUnitNET.Domain;
using ArchUnitNET.Loader;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Tests.Architecture;

/// <summary>A station knows what all share, and no other station: what two need stands in Shots, or in <c>Stations/Shared</c>.</summary>
public class StationsTests
{
    private const string Root = "DuneCrate.Web.Stations.",
        View = "Stations_",
        Shared = "Shared";

    private static readonly ArchUnitNET.Domain.Architecture Code = new ArchLoader().LoadAssemblies(typeof(ShotPage).Assembly).Build();

    [Fact]
    public void No_station_knows_another()
    {
        string[] wrong =
        [
            .. from type in Code.Types
            let station = StationOf(type)
            where station is not null and not Shared
            from dependency in type.Dependencies.Where(d => d.Target is not GenericParameter)
            let other = StationOf(dependency.Target)
            where other is not (null or Shared) && other != station
            select $"{type.FullName} uses {dependency.Target.FullName}",
        ];
        Assert.True(wrong.Length == 0, string.Join("\n", wrong.Distinct().Order(StringComparer.Ordinal)));
    }

    [Fact]
    public void What_all_stations_share_knows_none_of_them() =>
        Assert.Empty(
            from type in Code.Types
            where StationOf(type) == Shared
            from dependency in type.Dependencies.Where(d => d.Target is not GenericParameter)
            where StationOf(dependency.Target) is not (null or Shared)
            select $"{type.FullName} uses {dependency.Target.FullName}"
        );

    [Fact]
    public void The_loader_sees_what_the_stations_use() =>
        Assert.Contains(
            Code.Types.Where(t => StationOf(t) == "Crating").SelectMany(t => t.Dependencies),
            d => StationOf(d.Target) == Shared
        );

    [Fact]
    public void The_loader_sees_the_compiled_views() =>
        Assert.Contains(Code.Types.Where(t => t.Name.StartsWith(View, StringComparison.Ordinal)), t => StationOf(t) == "Crating");

    /// <summary>The station of a type; a view that was compiled has it in its name: <c>Stations_Crating__Crates</c>.</summary>
    private static string? StationOf(IType type) =>
        type.Namespace?.FullName is { } name && name.StartsWith(Root, StringComparison.Ordinal) ? name[Root.Length..].Split('.')[0]
        : type.Name.StartsWith(View, StringComparison.Ordinal) ? type.Name[View.Length..].Split('_')[0]
        : null;
}
