using DuneCrate.Store;

namespace DuneCrate.Web.Stations.People;

/// <summary>The history of the whole installation.</summary>
public sealed class WholeHistoryModel(HistoryStore history) : HistoryPage(history);
