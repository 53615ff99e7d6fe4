using DuneCrate.Shots.Pictures;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>A sum that is tried, as addresses say it.</summary>
public static class RebuildQuery
{
    /// <summary>Reads <c>sum</c> and <c>gains</c>.</summary>
    public static RebuildTry Read(IQueryCollection query) => RebuildTry.Read(query["sum"].ToString(), query["gains"].ToString());
}
