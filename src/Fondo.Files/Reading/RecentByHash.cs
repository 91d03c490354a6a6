namespace Fondo.Files.Reading;

/// <summary>What went by, by its hash, in a table that is small for little and never large: of two that fall into one place the later one
/// stays.
/// So no choice of goods makes it slow.</summary>
internal sealed class RecentByHash<T>
{
    private const int Fewest = 1 << 8, Most = 1 << 15, Growth = 8;

    private T?[] _places = new T?[Fewest];
    private int _kept;

    /// <summary>What lies where something of this hash would; it may be another. Several threads may ask and keep, where T is a
    /// reference.</summary>
    public T? At(int hash)
    {
        var places = _places;
        return places[hash & (places.Length - 1)];
    }

    public void Keep(int hash, T value)
    {
        var places = _places;
        if (++_kept > places.Length && places.Length < Most)
        {
            (_places, _kept) = (places = new T?[Math.Min(places.Length * Growth, Most)], 0);
        }

        places[hash & (places.Length - 1)] = value;
    }
}
