using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Engine.Messages;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Engine.Runs;

/// <summary>Files on their way.</summary>
internal sealed class FactsRun : EngineRun
{
    private const int MostFiles = 16,
        LeastPieces = 32;
    private const long MostBytes = 256L << 20;

    private readonly FactsOrder _order;
    private readonly Action<int, FileFacts> _got;

    private FactsRun(string id, string root, string folder, IReadOnlyCollection<Piece> pieces, FactsOrder order, Action<int, FileFacts> got)
        : base(id, root, folder, pieces) => (_order, _got) = (order, got);

    /// <summary>The run of an order.</summary>
    /// <param name="order">The order.</param>
    /// <param name="root">Name of the root that its folder lies in.</param>
    /// <param name="folder">The folder below it.</param>
    /// <param name="got">Told of each file.</param>
    public static FactsRun Of(FactsOrder order, string root, string folder, Action<int, FileFacts> got)
    {
        IEnumerable<string> asked = order.Wanted.Select(i => order.Asked(order.Files[i]).Signature).Distinct();
        string id = EngineNames.Hash([root, folder, order.Depth.ToString(), .. asked]);
        return new FactsRun(id, root, folder, Cut(order), order, got);
    }

    /// <summary>
    /// Pieces over the whole listing, so that their borders are the same after a restart; each holds what is wanted of it. A short listing
    /// is cut smaller, so that several readers end at about the same time.
    /// </summary>
    private static List<Piece> Cut(FactsOrder order)
    {
        var pieces = new List<Piece>();
        var wanted = order.Wanted.ToHashSet();
        int most = Math.Clamp(order.Files.Length / LeastPieces, 1, MostFiles);
        for (int first = 0, next; first < order.Files.Length; first = next)
        {
            long bytes = 0;
            for (
                next = first;
                next < order.Files.Length && next - first < most && (next == first || bytes + order.Files[next].Bytes <= MostBytes);
                next++
            )
            {
                bytes += order.Files[next].Bytes;
            }

            ImmutableArray<int> places = [.. Enumerable.Range(first, next - first).Where(wanted.Contains)];
            if (!places.IsEmpty)
            {
                string id = EngineNames.Hash(order.Depth.ToString(), order.Files[first].Path, $"{next - first}");
                WorkKind kind =
                    order.Priority == GatherPriority.First ? WorkKind.First
                    : places.Length == 1 ? WorkKind.Single
                    : WorkKind.Bulk;
                pieces.Add(new Piece(id, kind, places));
            }
        }

        return pieces;
    }

    /// <inheritdoc/>
    public override WorkMessage Message(Piece piece)
    {
        var requests = new List<FactsRequest>();
        var files = ImmutableArray.CreateBuilder<WorkFile>();
        foreach (IntakeFile file in piece.Places.Select(p => _order.Files[p]))
        {
            FactsRequest asked = _order.Asked(file);
            int at = requests.FindIndex(r => r.Signature == asked.Signature);
            if (at < 0)
            {
                at = requests.Count;
                requests.Add(asked);
            }

            files.Add(new WorkFile(file.Path, at));
        }

        PassCatalogue catalogue = requests[0].Catalogue;
        return new WorkMessage(
            Id,
            piece.Id,
            TokenOf(piece),
            piece.Kind,
            Root,
            Folder,
            _order.Depth,
            catalogue == PassCatalogue.Shipped ? null : catalogue.Passes,
            [.. requests.Select(RequestMessage.Of)],
            files.ToImmutable(),
            []
        );
    }

    /// <inheritdoc/>
    public override void Read(int place, CancellationToken cancel) => _got(place, _order.Read(place, cancel));

    /// <inheritdoc/>
    public override DateTime Changed(Piece piece) => piece.Places.Max(p => _order.Files[p].Modified);

    /// <inheritdoc/>
    public override string NameOf(int place) => _order.Files[place].Place.Display;

    /// <inheritdoc/>
    protected override string? Problem(FactsMessage found, Piece piece)
    {
        if (found.Files.Length != piece.Places.Length || !found.Sums.IsEmpty)
        {
            return $"it tells of {found.Files.Length} files and {found.Sums.Length} sums, and {piece.Places.Length} files were asked for";
        }

        for (int i = 0; i < found.Files.Length; i++)
        {
            IntakeFile file = _order.Files[piece.Places[i]];
            if (found.Files[i].Facts.Path != file.Path)
            {
                return $"it tells of another file than {file.Path}";
            }

            if (FactsPlausibility.Problem(found.Files[i].Whole, _order.Depth) is { } problem)
            {
                return $"what it tells of {file.Path} cannot be: {problem}";
            }
        }

        return null;
    }

    /// <remarks>
    /// A worker's word that a file is not there, cannot be read or is changing is no fact: its storage may be mounted elsewhere or lag
    /// behind. Neither are facts of a file of another size or time than the one that was listed here.
    /// </remarks>
    /// <inheritdoc/>
    protected override bool Take(FactsMessage found, int index, int place)
    {
        IntakeFile file = _order.Files[place];
        FileFound whole = found.Files[index];
        FileFacts facts = whole.Facts;
        if (
            facts.Trouble is ImageProblem.NotRead or ImageProblem.Changing or ImageProblem.Tiny
            || facts.Bytes != file.Bytes
            || facts.Modified != file.Modified
        )
        {
            return false;
        }

        _order.Cache.Keep(file, _order.Asked(file), whole.Whole);
        _got(place, whole.Whole);
        return true;
    }

    /// <inheritdoc/>
    protected override void SetAside(int place, int tries)
    {
        IntakeFile file = _order.Files[place];
        _got(
            place,
            new FileFacts
            {
                Path = file.Path,
                Format = file.Format,
                Bytes = file.Bytes,
                Modified = file.Modified,
                Problem = $"reading it made the reader fail {tries} times; it is set aside until somebody looks at it",
                Trouble = ImageProblem.NotRead,
            }
        );
    }
}
