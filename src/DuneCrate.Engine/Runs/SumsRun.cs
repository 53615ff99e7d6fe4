using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Engine.Messages;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Engine.Runs;

/// <summary>Sums on their way, each a piece of its own.</summary>
internal sealed class SumsRun : EngineRun
{
    private readonly SumsOrder _order;
    private readonly Action<int, RebuildFacts?> _got;

    private SumsRun(
        string id,
        string root,
        string folder,
        IReadOnlyCollection<Piece> pieces,
        SumsOrder order,
        Action<int, RebuildFacts?> got
    )
        : base(id, root, folder, pieces) => (_order, _got) = (order, got);

    /// <summary>The run of an order.</summary>
    /// <inheritdoc cref="FactsRun.Of" path="/param"/>
    public static SumsRun Of(SumsOrder order, string root, string folder, Action<int, RebuildFacts?> got) =>
        new(
            EngineNames.Hash([root, folder, "sums", .. order.Sums.Select(s => s.Recipe.Signature).Distinct()]),
            root,
            folder,
            [.. order.Sums.Select((sum, i) => new Piece(EngineNames.Hash($"{sum.Key.Hash:x32}"), WorkKind.Single, [i]))],
            order,
            got
        );

    /// <inheritdoc/>
    public override WorkMessage Message(Piece piece) =>
        new(
            Id,
            piece.Id,
            TokenOf(piece),
            piece.Kind,
            Root,
            Folder,
            FactsDepth.Pixels,
            _order.Catalogue == PassCatalogue.Shipped ? null : _order.Catalogue.Passes,
            [],
            [],
            [.. piece.Places.Select(p => SumMessage.Of(_order.Sums[p]))]
        );

    /// <inheritdoc/>
    public override void Read(int place, CancellationToken cancel) => _got(place, _order.Measure(place, cancel));

    /// <remarks>A sum is named by the contents of its files, so that another one follows from any change.</remarks>
    /// <inheritdoc/>
    public override DateTime Changed(Piece piece) => DateTime.MinValue;

    /// <inheritdoc/>
    public override string NameOf(int place) => $"the sum of {_order.Sums[place].Layer} at {_order.Sums[place].Frame}";

    /// <inheritdoc/>
    protected override string? Problem(FactsMessage found, Piece piece) =>
        found.Sums.Length != piece.Places.Length || !found.Files.IsEmpty
            ? $"it tells of {found.Files.Length} files and {found.Sums.Length} sums, and {piece.Places.Length} sums were asked for"
            : found.Sums.Select(s => s.Facts is null ? null : FactsPlausibility.Problem(s.Facts)).FirstOrDefault(p => p is not null);

    /// <inheritdoc/>
    protected override bool Take(FactsMessage found, int index, int place)
    {
        if (found.Sums[index].Facts is not { } sum)
        {
            return false;
        }

        _order.Cache.KeepRebuild(_order.Sums[place].Key, sum);
        _got(place, sum);
        return true;
    }

    /// <inheritdoc/>
    protected override void SetAside(int place, int tries) => _got(place, null);
}
