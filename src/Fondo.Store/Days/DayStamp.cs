namespace Fondo.Store.Days;

/// <summary>Of what a view of a day is made: while all of it is the same, so is the view.</summary>
/// <param name="Said">As <see cref="Model.Commits"/> counts.</param>
/// <param name="Earlier">The revisions of the days before, together: floats come from there.</param>
/// <param name="Close">The number of the close that stands, and what it says: should that ever be another, it is shown.</param>
public sealed record DayStamp(KnownDay Known, long Said, long Earlier, int? Close, string? Content)
{
    public bool Equals(DayStamp? other) => other is not null && ReferenceEquals(Known, other.Known)
        && (Said, Earlier, Close, Content) == (other.Said, other.Earlier, other.Close, other.Content);

    public override int GetHashCode() => HashCode.Combine(Said, Earlier, Close);
}
