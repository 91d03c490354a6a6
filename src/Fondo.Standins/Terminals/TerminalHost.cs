using System.Globalization;
using System.Text.Json;

namespace Fondo.Standins.Terminals;

/// <summary>What the host answers to a settlement.</summary>
/// <param name="Batch">Null where it refused.</param>
public sealed record Settled(ClosedBatch? Batch, string Says);

/// <summary>The processor and the benefit host of all simulated terminals: what each holds, its closed batches, and which settlement made
/// them.</summary>
/// <param name="keptIn">The file that it survives a restart in.</param>
public sealed class TerminalHost(TimeProvider clock, string keptIn)
{
    private const int LeftBehind = 3;

    private static readonly TimeSpan _played = TimeSpan.FromHours(12), _after = TimeSpan.FromMinutes(15);

    private static readonly JsonSerializerOptions _json = new() { WriteIndented = false };

    private readonly Lock _one = new();
    private Kept? _kept;
    private bool _isDirty;

    public HostFault Fault { get; set; }

    /// <summary>So long it says nothing before the line breaks, when it is told not to answer.</summary>
    public TimeSpan Silence { get; set; } = TimeSpan.FromMinutes(5);

    private sealed class Kept
    {
        public Dictionary<string, List<HeldRow>> Held { get; set; } = [];

        public Dictionary<string, Sum> Reversed { get; set; } = [];

        public List<ClosedBatch> Closed { get; set; } = [];

        public Dictionary<Guid, string> BySettlement { get; set; } = [];

        public Dictionary<string, DateTimeOffset> SettledAlone { get; set; } = [];
    }

    private Kept All => _kept ??= File.Exists(keptIn) ? JsonSerializer.Deserialize<Kept>(File.ReadAllText(keptIn)) ?? new() : new();

    public IReadOnlyList<string> Terminals
    {
        get
        {
            lock (_one)
            {
                return [.. All.Held.Keys.Union(All.Closed.Select(c => c.Terminal)).Order(StringComparer.Ordinal)];
            }
        }
    }

    /// <summary>A card that was approved.</summary>
    public void Take(string terminal, HeldRow row)
    {
        lock (_one)
        {
            (All.Held.TryGetValue(terminal, out var held) ? held : All.Held[terminal] = []).Add(row);
            _isDirty = true;
        }
    }

    /// <summary>A void or a reversal: takes the transaction out again, unless it never arrives.</summary>
    public void TakeBack(string terminal, string? rrn, long amount)
    {
        lock (_one)
        {
            if (Fault == HostFault.LosesVoids || !All.Held.TryGetValue(terminal, out var held))
            {
                return;
            }

            if (held.FindLastIndex(r => rrn is null ? r.Amount == Math.Abs(amount) : r.Rrn == rrn) is >= 0 and var at)
            {
                var reversed = All.Reversed.GetValueOrDefault(terminal);
                All.Reversed[terminal] = new(reversed.Number + 1, reversed.Amount + held[at].Amount);
                held.RemoveAt(at);
                _isDirty = true;
            }
        }
    }

    /// <summary>What a terminal holds and has not settled.</summary>
    public (BatchTotals Totals, IReadOnlyList<HeldRow> Rows) Running(string terminal)
    {
        lock (_one)
        {
            List<HeldRow> rows = [.. All.Held.GetValueOrDefault(terminal) ?? []];
            return (BatchTotals.Of(rows, All.Reversed.GetValueOrDefault(terminal)), rows);
        }
    }

    /// <summary>Closes the terminal's batch. The same key again gives the same batch.</summary>
    public Settled Settle(string terminal, Guid key)
    {
        lock (_one)
        {
            if (Find(key) is { } before)
            {
                return new(before, "Settled before.");
            }

            if (Fault == HostFault.Refuses)
            {
                return new(null, "The processor refuses to settle this terminal now.");
            }

            var batch = Close(terminal);
            All.BySettlement[key] = $"{batch.Terminal}/{batch.Batch}";
            Save();
            return new(batch, "Settled.");
        }
    }

    /// <summary>The batch that a settlement closed; null where the host knows nothing of it.</summary>
    public ClosedBatch? Find(Guid key)
    {
        lock (_one)
        {
            return All.BySettlement.TryGetValue(key, out var name) ? All.Closed.Last(c => $"{c.Terminal}/{c.Batch}" == name) : null;
        }
    }

    /// <summary>The batches that closed after a moment; twice, when the fault is told.</summary>
    public IReadOnlyList<ClosedBatch> Batches(DateTimeOffset after)
    {
        lock (_one)
        {
            var batches = All.Closed.Where(c => c.Closed > after).ToList();
            return Fault == HostFault.SendsTwice ? [.. batches, .. batches] : batches;
        }
    }

    /// <param name="closed">Of several of that number the one that closed then; null: the latest.</param>
    public ClosedBatch? Batch(string terminal, string batch, DateTimeOffset? closed = null)
    {
        lock (_one)
        {
            return All.Closed.LastOrDefault(c => c.Terminal == terminal && c.Batch == batch
                && (closed is not { } at || (c.Closed - at).Duration() < TimeSpan.FromSeconds(1)));
        }
    }

    /// <summary>Settles by itself, once a day, what has its time.</summary>
    /// <param name="due">When each terminal settles next or last did.</param>
    public void SettleAlone(IEnumerable<(string Terminal, DateTimeOffset Due)> due)
    {
        lock (_one)
        {
            foreach (var (terminal, at) in due.Where(d => d.Due <= clock.GetUtcNow()
                && All.SettledAlone.GetValueOrDefault(d.Terminal) < d.Due))
            {
                All.SettledAlone[terminal] = at;
                if (All.Held.GetValueOrDefault(terminal) is { Count: > 0 })
                {
                    Close(terminal);
                }

                _isDirty = true;
            }
        }
    }

    /// <summary>Settles by itself at a moment of a day that is played.</summary>
    public void SettlePlayed(string terminal, DateTimeOffset at)
    {
        lock (_one)
        {
            if (All.Held.GetValueOrDefault(terminal) is { Count: > 0 })
            {
                Close(terminal, at);
                Save();
            }
        }
    }

    /// <summary>Gives a terminal's last batch another number, as when its numbers begin anew.</summary>
    public void Renumber(string terminal, string batch)
    {
        lock (_one)
        {
            var at = All.Closed.FindLastIndex(c => c.Terminal == terminal);
            All.Closed[at] = All.Closed[at] with { Batch = batch };
            Save();
        }
    }

    /// <summary>Writes down what changed.</summary>
    public void Save()
    {
        lock (_one)
        {
            if (_kept is null)
            {
                return;
            }

            Directory.CreateDirectory(Path.GetDirectoryName(keptIn)!);
            File.WriteAllText(keptIn + ".part", JsonSerializer.Serialize(_kept, _json));
            File.Move(keptIn + ".part", keptIn, overwrite: true);
            _isDirty = false;
        }
    }

    public void SaveIfChanged()
    {
        if (_isDirty)
        {
            Save();
        }
    }

    private ClosedBatch Close(string terminal, DateTimeOffset? at = null)
    {
        var held = All.Held.GetValueOrDefault(terminal) ?? [];
        var stays = Fault == HostFault.LeavesBehind ? held.TakeLast(LeftBehind).ToList() : [];
        List<HeldRow> settled = [.. held.Take(held.Count - stays.Count)];
        var totals = BatchTotals.Of(settled, All.Reversed.GetValueOrDefault(terminal));
        var number = All.Closed.Count(c => c.Terminal == terminal) + 1;
        // Of a day that was played after the fact, the batch closes in that day's own evening.
        var now = at ?? (held.Count > 0 && clock.GetUtcNow() - held.Max(r => r.At) is var ago && ago > _played
            ? held.Max(r => r.At) + _after
            : clock.GetUtcNow());
        var batch = new ClosedBatch(
            terminal, string.Create(CultureInfo.InvariantCulture, $"{now:yyMMdd}{number:00}"), now, totals,
            Fault == HostFault.RowsMissing ? [.. settled.SkipLast(1)] : settled);
        All.Held[terminal] = stays;
        All.Reversed.Remove(terminal);
        All.Closed.Add(batch);
        return batch;
    }
}
