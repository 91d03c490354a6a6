namespace Fondo.Files.Reading;

/// <summary>Where a record stood.</summary>
/// <param name="Line">From 1; 0 for a stored record.</param>
internal readonly record struct Source(string File, int Line)
{
    public bool IsStored => Line == 0;
}

/// <summary>Records in the order in which they came, each once under its key, with where it stood.</summary>
/// <remarks>Half the memory of a dictionary of the same: the key is asked of the record, the file is kept once for all that stood in
/// it.</remarks>
internal sealed class KeyedRecords<TKey, T>(Func<T, TKey> keyOf)
    where TKey : notnull
    where T : class
{
    private const int Fewest = 16, HashAt = 32;
    private const ulong Odd = 0x9E3779B97F4A7C15;

    private readonly List<(int From, string File)> _files = [];
    private T?[] _records = [];
    private int[] _lines = [];
    private ulong[] _slots = []; // the hash of a key, and behind it the place of its record, from 1; 0 where there is none
    private int _places, _removed;

    public int Count => _places - _removed;

    /// <summary>All that is there, in order.</summary>
    public IEnumerable<T> Records => Enumerable.Range(0, _places).Select(At).OfType<T>();

    /// <summary>Makes room for about so many at once.</summary>
    public void Expect(int records)
    {
        if (records > _records.Length)
        {
            Grow(records);
        }
    }

    /// <summary>How many places there are: those of all that came, also of what was taken out again.</summary>
    public int Places => _places;

    /// <summary>Null where it was taken out again.</summary>
    public T? At(int place) => _records[place];

    public Source SourceOf(int place)
    {
        var (from, to) = (0, _files.Count);
        while (to - from > 1)
        {
            var middle = (from + to) / 2;
            (from, to) = _files[middle].From <= place ? (middle, to) : (from, middle);
        }

        return new(_files[from].File, _lines[place]);
    }

    public TKey KeyOf(T record) => keyOf(record);

    /// <summary>Keeps a record that is new.</summary>
    /// <param name="place">Where it is, or the one of the same key that was there before.</param>
    /// <returns>False where there was one of that key.</returns>
    public bool TryAdd(T record, Source source, out int place)
    {
        if (_places == _records.Length)
        {
            Grow(Math.Max(Fewest, _places * 2));
        }

        var (hash, slot) = Find(keyOf(record), out place);
        if (place >= 0)
        {
            return false;
        }

        if (_files.Count == 0 || _files[^1].File != source.File)
        {
            _files.Add((_places, source.File));
        }

        place = _places++;
        (_records[place], _lines[place]) = (record, source.Line);
        _slots[slot] = Slot(hash, place);
        return true;
    }

    public void Remove(TKey key)
    {
        if (_places == 0)
        {
            return;
        }

        Find(key, out var place);
        if (place >= 0)
        {
            _records[place] = null; // its slot stays, so that what lies behind it is still found
            _removed++;
        }
    }

    public ImmutableArray<T> ToArray()
    {
        var all = ImmutableArray.CreateBuilder<T>(Count);
        for (var place = 0; place < _places; place++)
        {
            if (_records[place] is { } record)
            {
                all.Add(record);
            }
        }

        return all.MoveToImmutable();
    }

    /// <summary>The place of the record of this key, −1 where there is none; and the slot where it is or would be.</summary>
    private (uint Hash, int Slot) Find(TKey key, out int place)
    {
        var hash = (uint)key.GetHashCode();
        for (var slot = FirstSlot(hash); ; slot = (slot + 1) & (_slots.Length - 1))
        {
            var held = _slots[slot];
            place = PlaceIn(held);
            if (place < 0 || ((uint)(held >> HashAt) == hash && _records[place] is { } there && keyOf(there).Equals(key)))
            {
                return (hash, slot);
            }
        }
    }

    private int FirstSlot(uint hash) => (int)((hash * Odd) >> HashAt) & (_slots.Length - 1);

    private static ulong Slot(uint hash, int place) => ((ulong)hash << HashAt) | (uint)(place + 1);

    private static int PlaceIn(ulong slot) => (int)(uint)slot - 1;

    /// <summary>A quarter of the slots at least stays empty.</summary>
    private void Grow(int records)
    {
        Array.Resize(ref _records, records);
        Array.Resize(ref _lines, records);
        var slots = (int)System.Numerics.BitOperations.RoundUpToPowerOf2((uint)(records / 3 * 4) + 4);
        if (slots <= _slots.Length)
        {
            return;
        }

        var before = _slots;
        _slots = new ulong[slots];
        foreach (var held in before)
        {
            if (held != 0)
            {
                var slot = FirstSlot((uint)(held >> HashAt));
                while (_slots[slot] != 0)
                {
                    slot = (slot + 1) & (_slots.Length - 1);
                }

                _slots[slot] = held;
            }
        }
    }
}
