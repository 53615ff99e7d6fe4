using System.Collections.Immutable;

namespace DuneCrate.Foundation.Frames;

/// <summary>
/// Builds the canonical runs from disjoint ascending pieces, as if frame after frame were fed to one greedy rule:
/// extend the open run while the distance stays the same; a pair at a distance above 1 is two single frames.
/// </summary>
internal sealed class FrameRunBuilder
{
    private readonly ImmutableArray<FrameRun>.Builder _done = ImmutableArray.CreateBuilder<FrameRun>();
    private long _first,
        _last,
        _step,
        _count;

    public void Add(FrameRun run)
    {
        for (long frame = run.First; frame <= run.Last; frame += run.Step)
        {
            Feed(frame);
            if (_count >= 2 && _step == run.Step && run.Count > 1)
            {
                _count += (run.Last - frame) / run.Step;
                _last = run.Last;
                return;
            }
        }
    }

    private void Feed(long frame)
    {
        if (_count == 1)
        {
            (_step, _last, _count) = (frame - _last, frame, 2);
        }
        else if (_count >= 2 && frame - _last == _step)
        {
            (_last, _count) = (frame, _count + 1);
        }
        else if (_count == 2 && _step != 1)
        {
            Emit(_first, _first, 1);
            (_first, _step, _last) = (_last, frame - _last, frame);
        }
        else
        {
            Close();
            (_first, _last, _step, _count) = (frame, frame, 1, 1);
        }
    }

    private void Close()
    {
        if (_count == 2 && _step != 1)
        {
            Emit(_first, _first, 1);
            Emit(_last, _last, 1);
        }
        else if (_count > 0)
        {
            Emit(_first, _last, _count == 1 ? 1 : _step);
        }

        _count = 0;
    }

    private void Emit(long first, long last, long step) => _done.Add(new FrameRun((int)first, (int)last, step));

    public ImmutableArray<FrameRun> ToRuns()
    {
        Close();
        return _done.ToImmutable();
    }
}
