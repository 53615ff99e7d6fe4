using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Engine.Messages;

/// <summary>A piece of work: files of one folder to be read, or sums to be measured. Paths are below the folder, the folder below a root
/// that is named; nothing absolute is sent.</summary>
/// <param name="Run">The run that it belongs to.</param>
/// <param name="Piece">Its name in the run.</param>
/// <param name="Token">128 random bits that the result must carry: nobody else can answer for the piece.</param>
/// <param name="Kind">The queue that it waits in.</param>
/// <param name="Root">Name of the root.</param>
/// <param name="Folder">The folder below it.</param>
/// <param name="Depth">How much of each file is read.</param>
/// <param name="Catalogue">A show's passes; null for those that ship.</param>
/// <param name="Requests">What is asked, each way once.</param>
/// <param name="Files">The files.</param>
/// <param name="Sums">The sums.</param>
public sealed record WorkMessage(
    string Run,
    string Piece,
    string Token,
    WorkKind Kind,
    string Root,
    string Folder,
    FactsDepth Depth,
    ImmutableArray<PassDefinition>? Catalogue,
    ImmutableArray<RequestMessage> Requests,
    ImmutableArray<WorkFile> Files,
    ImmutableArray<SumMessage> Sums
);
