using System.Collections;
using DuneCrate.Checking.Intake;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Matching;

/// <summary>
/// The statistics of a pass's channels in one file, those that were read, in the plan's order. Rules ask them for every pass of every
/// frame, so the questions are answered
/// without allocation (<c>bench/run report</c>).
/// </summary>
public readonly struct PassSamples : IEnumerable<(string Channel, SampleStatistics Samples)>
{
    private readonly ChannelPlace[] _places;
    private readonly FileFacts _facts;

    internal PassSamples(ChannelPlace[] places, FileFacts facts) => (_places, _facts) = (places, facts);

    /// <summary>Whether any channel was read.</summary>
    public bool Any() => GetEnumerator().MoveNext();

    /// <summary>Whether a channel that was read is like that.</summary>
    public bool Any(Func<(string Channel, SampleStatistics Samples), bool> isSo)
    {
        foreach ((string, SampleStatistics) one in this)
        {
            if (isSo(one))
            {
                return true;
            }
        }

        return false;
    }

    /// <summary>Whether every channel that was read is like that; true without any.</summary>
    public bool All(Func<(string Channel, SampleStatistics Samples), bool> isSo)
    {
        foreach ((string, SampleStatistics) one in this)
        {
            if (!isSo(one))
            {
                return false;
            }
        }

        return true;
    }

    /// <summary>A number of every channel, added up.</summary>
    public long Sum(Func<(string Channel, SampleStatistics Samples), long> number)
    {
        long sum = 0;
        foreach ((string, SampleStatistics) one in this)
        {
            sum += number(one);
        }

        return sum;
    }

    /// <summary>The greatest of a number of the channels, or the least number there is without any.</summary>
    public double Max(Func<(string Channel, SampleStatistics Samples), double> number)
    {
        double most = double.NegativeInfinity;
        foreach ((string, SampleStatistics) one in this)
        {
            most = Math.Max(most, number(one));
        }

        return most;
    }

    /// <summary>The mean of a number of the channels; 0 without any.</summary>
    public double Average(Func<(string Channel, SampleStatistics Samples), double> number)
    {
        (double sum, int count) = (0, 0);
        foreach ((string, SampleStatistics) one in this)
        {
            (sum, count) = (sum + number(one), count + 1);
        }

        return count == 0 ? 0 : sum / count;
    }

    /// <summary>The channels one after the other.</summary>
    public Enumerator GetEnumerator() => new(_places, _facts);

    IEnumerator<(string Channel, SampleStatistics Samples)> IEnumerable<(string Channel, SampleStatistics Samples)>.GetEnumerator() =>
        GetEnumerator();

    IEnumerator IEnumerable.GetEnumerator() => GetEnumerator();

    /// <summary>Goes through the channels.</summary>
    public struct Enumerator : IEnumerator<(string Channel, SampleStatistics Samples)>
    {
        private readonly ChannelPlace[] _places;
        private readonly FileFacts _facts;
        private int _next;

        internal Enumerator(ChannelPlace[] places, FileFacts facts) => (_places, _facts) = (places, facts);

        /// <inheritdoc/>
        public (string Channel, SampleStatistics Samples) Current { get; private set; }

        readonly object IEnumerator.Current => Current;

        /// <inheritdoc/>
        public bool MoveNext()
        {
            while (_next < _places.Length)
            {
                ref readonly ChannelPlace place = ref _places[_next++];
                if (_facts.Parts[place.Part].Channels[place.Channel].Samples is { } samples)
                {
                    Current = (place.Name, samples);
                    return true;
                }
            }

            return false;
        }

        /// <inheritdoc/>
        public void Reset() => _next = 0;

        /// <inheritdoc/>
        public readonly void Dispose() { }
    }
}
