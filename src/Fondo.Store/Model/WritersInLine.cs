namespace Fondo.Store.Model;

/// <summary>Who writes next. SQLite has one writer at a time and lets the others ask again and again; here they stand in line, persons
/// before registers and files.</summary>
public sealed class WritersInLine
{
    /// <summary>Where one stands who has no line to stand in: a program that writes alone.</summary>
    public static readonly WritersInLine Alone = new();

    /// <summary>What they wrote, counted.</summary>
    public Commits Commits { get; } = new();

    private readonly Lock _one = new();
    private readonly Queue<TaskCompletionSource> _persons = [], _others = [];
    private bool _isTaken;

    /// <summary>Waits for one's turn.</summary>
    /// <returns>To be disposed of when one is done.</returns>
    public async Task<IDisposable> Enter(bool isPerson)
    {
        TaskCompletionSource? turn = null;
        lock (_one)
        {
            if (_isTaken)
            {
                turn = new(TaskCreationOptions.RunContinuationsAsynchronously);
                (isPerson ? _persons : _others).Enqueue(turn);
            }

            _isTaken = true;
        }

        if (turn is not null)
        {
            await turn.Task;
        }

        return new Turn(this);
    }

    private void Leave()
    {
        lock (_one)
        {
            if (_persons.TryDequeue(out var next) || _others.TryDequeue(out next))
            {
                next.SetResult();
            }
            else
            {
                _isTaken = false;
            }
        }
    }

    private sealed class Turn(WritersInLine writers) : IDisposable
    {
        private WritersInLine? _line = writers;

        public void Dispose() => Interlocked.Exchange(ref _line, null)?.Leave();
    }
}
