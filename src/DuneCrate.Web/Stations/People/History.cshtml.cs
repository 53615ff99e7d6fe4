using DuneCrate.Store;

namespace DuneCrate.Web.Stations.People;

/// <summary>The history of one show.</summary>
public sealed class HistoryModel(HistoryStore history) : HistoryPage(history);
