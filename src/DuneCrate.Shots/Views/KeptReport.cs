using DuneCrate.Checking.Reports;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Views;

/// <summary>A report as it was stored.</summary>
/// <param name="Row">The check that it is of, without the document.</param>
/// <param name="Report">The report.</param>
/// <param name="Letters">Length of its document: about as much memory as it takes.</param>
internal sealed record KeptReport(CheckRow Row, CheckReport Report, long Letters);
