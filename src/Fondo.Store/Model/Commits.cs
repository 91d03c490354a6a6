namespace Fondo.Store.Model;

/// <summary>How often something was written that a day may be seen otherwise for: everything but the records of registers, which count by
/// the revision of their day, and what has nothing to do
/// with days. While the number is the same, what was said of a day is the same.</summary>
public sealed class Commits
{
    private long _number;

    public long Number => Interlocked.Read(ref _number);

    /// <summary>After the commit, never before: whoever read the number reads at least what it stands for.</summary>
    public void Note() => Interlocked.Increment(ref _number);
}
