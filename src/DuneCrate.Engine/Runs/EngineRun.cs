using System.Security.Cryptography;
using System.Text;
using DuneCrate.Engine.Messages;

namespace DuneCrate.Engine.Runs;

/// <summary>
/// One order on its way: what waits to be given out, what is out, what has come back, what this process must read itself. A place is done
/// once, however often its result comes. Safe to use from several threads.
/// </summary>
internal abstract class EngineRun
{
    private const int KeyBytes = 32,
        TokenBytes = 16;

    private readonly Lock _lock = new();
    private readonly HashSet<int> _open;
    private readonly Queue<Piece> _waiting;
    private readonly Dictionary<string, Piece> _out = [];
    private readonly HashSet<int> _here = [];
    private readonly HashSet<string> _workers = [];

    /// <summary>Starts with everything waiting.</summary>
    protected EngineRun(string id, string root, string folder, IReadOnlyCollection<Piece> pieces)
    {
        (Id, Root, Folder, Total) = (id, root, folder, pieces.Sum(p => p.Places.Length));
        _open = [.. pieces.SelectMany(p => p.Places)];
        _waiting = new Queue<Piece>(pieces);
    }

    /// <summary>Its name; the same for the same order, also after a restart.</summary>
    public string Id { get; }

    /// <summary>Name of the root.</summary>
    public string Root { get; }

    /// <summary>The folder below it.</summary>
    public string Folder { get; }

    /// <summary>What the tokens of its pieces are made of; random, known to this process alone.</summary>
    public byte[] Key { get; set; } = RandomNumberGenerator.GetBytes(KeyBytes);

    /// <summary>Files or sums in all.</summary>
    public int Total { get; }

    /// <summary>Released when something has come.</summary>
    public SemaphoreSlim News { get; } = new(0);

    /// <summary>Files or sums that are not done.</summary>
    public int Open
    {
        get
        {
            lock (_lock)
            {
                return _open.Count;
            }
        }
    }

    /// <summary>Pieces that wait here and that are out.</summary>
    public (int Waiting, int Out) Pieces
    {
        get
        {
            lock (_lock)
            {
                return (_waiting.Count, _out.Count);
            }
        }
    }

    /// <summary>Workers that have sent results.</summary>
    public int Workers
    {
        get
        {
            lock (_lock)
            {
                return _workers.Count;
            }
        }
    }

    /// <summary>The message of a piece.</summary>
    public abstract WorkMessage Message(Piece piece);

    /// <summary>Does a place here.</summary>
    public abstract void Read(int place, CancellationToken cancel);

    /// <summary>Takes what was found for a piece; false for a place that must be looked at here.</summary>
    protected abstract bool Take(FactsMessage found, int index, int place);

    /// <summary>Says of a place that nobody could do it.</summary>
    protected abstract void SetAside(int place, int tries);

    /// <summary>When a file of a piece was last written.</summary>
    public abstract DateTime Changed(Piece piece);

    /// <summary>What a place is, for people.</summary>
    public abstract string NameOf(int place);

    /// <summary>The next piece to give out while fewer than so many are out; null when there is none.</summary>
    public Piece? Next(int window)
    {
        lock (_lock)
        {
            if (_out.Count >= window || !_waiting.TryDequeue(out Piece? piece))
            {
                return null;
            }

            _out[piece.Id] = piece;
            return piece;
        }
    }

    /// <summary>Puts back a piece that could not be given out.</summary>
    public void PutBack(Piece piece)
    {
        lock (_lock)
        {
            if (_out.Remove(piece.Id))
            {
                _waiting.Enqueue(piece);
            }
        }
    }

    /// <summary>What is out, in case that some of it was lost.</summary>
    public IReadOnlyList<Piece> OutNow()
    {
        lock (_lock)
        {
            return [.. _out.Values];
        }
    }

    /// <summary>The token of a piece: 128 bits that only whoever was given the piece can know.</summary>
    public string TokenOf(Piece piece) =>
        Convert.ToHexStringLower(HMACSHA256.HashData(Key, Encoding.UTF8.GetBytes(piece.Id))[..TokenBytes]);

    /// <summary>What is wrong with a result as a whole, or null.</summary>
    protected abstract string? Problem(FactsMessage found, Piece piece);

    /// <summary>What has come back; nothing of it is believed that was not asked for, and nothing is taken twice.</summary>
    /// <returns>Why it was dropped, as the end of a sentence; null when it was taken or came too late.</returns>
    public string? Deliver(FactsMessage found)
    {
        Piece? piece;
        string? problem;
        lock (_lock)
        {
            if (!_out.TryGetValue(found.Piece, out piece))
            {
                return null; // Done already, by somebody who was slower or quicker.
            }

            if (found.Token != TokenOf(piece))
            {
                return "it does not carry the token that was given out with its piece";
            }

            _out.Remove(found.Piece);
            _workers.Add(found.Worker);
        }

        problem = found.Refused is null ? Problem(found, piece) : null;
        int at = 0;
        try
        {
            for (; at < piece.Places.Length; at++)
            {
                int place = piece.Places[at];
                if (!IsOpen(place))
                {
                    continue;
                }

                if (found.Refused is null && problem is null && Take(found, at, place))
                {
                    Done(place);
                }
                else
                {
                    ReadHere(place);
                }
            }
        }
        finally
        {
            // Where something went wrong on the way, such as a full disk under the cache, nobody else would do the rest.
            for (; at < piece.Places.Length; at++)
            {
                ReadHere(piece.Places[at]);
            }

            News.Release();
        }

        return problem;
    }

    /// <summary>A piece was given out as often as it may be and nobody answered: it is split, or a single place set aside.</summary>
    /// <returns>What was set aside, for people; null when it was split or is not out.</returns>
    public string? GiveUp(string id)
    {
        Piece? piece;
        lock (_lock)
        {
            if (!_out.Remove(id, out piece))
            {
                return null;
            }

            if (piece.Places.Length > 1)
            {
                foreach (Piece single in piece.Split())
                {
                    _waiting.Enqueue(single);
                }
            }
        }

        string? aside = null;
        if (piece.Places.Length == 1 && IsOpen(piece.Places[0]))
        {
            SetAside(piece.Places[0], EngineStreams.Tries(piece.Kind));
            Done(piece.Places[0]);
            aside = NameOf(piece.Places[0]);
        }

        News.Release();
        return aside;
    }

    /// <summary>Everything that is left is done here.</summary>
    public void ReadRestHere()
    {
        lock (_lock)
        {
            _waiting.Clear();
            _out.Clear();
            _here.UnionWith(_open);
        }
    }

    /// <summary>What must be done here, once.</summary>
    public IReadOnlyList<int> TakeHere()
    {
        lock (_lock)
        {
            int[] places = [.. _here];
            _here.Clear();
            return places;
        }
    }

    /// <summary>A place is done.</summary>
    public void Done(int place)
    {
        lock (_lock)
        {
            _open.Remove(place);
        }
    }

    private bool IsOpen(int place)
    {
        lock (_lock)
        {
            return _open.Contains(place);
        }
    }

    private void ReadHere(int place)
    {
        lock (_lock)
        {
            if (_open.Contains(place))
            {
                _here.Add(place);
            }
        }
    }
}
