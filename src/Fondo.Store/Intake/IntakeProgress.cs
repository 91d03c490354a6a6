namespace Fondo.Store.Intake;

/// <summary>How far the taking in of files has come, for whoever waits for it. Written by the one who takes them in, read by any
/// other.</summary>
public sealed class IntakeProgress
{
    private volatile Stream? _reading;
    private string _name = "";
    private long _length;
    private int _written, _toWrite;

    /// <summary>What is being done, and which part of it is done, from 0 to 1.</summary>
    public (string Says, double Part) Now
    {
        get
        {
            if (_toWrite > 0)
            {
                return ("written", (double)_written / _toWrite);
            }

            try
            {
                return _reading is { } stream && _length > 0 ? ($"of {_name} read", (double)stream.Position / _length) : ("sent", 1);
            }
            catch (ObjectDisposedException)
            {
                return ($"of {_name} read", 1);
            }
        }
    }

    /// <summary>From now on this is read.</summary>
    public Stream Reads(string name, Stream stream)
    {
        (_name, _length) = (name, stream.CanSeek ? stream.Length : 0);
        _reading = stream;
        return stream;
    }

    /// <summary>From now on these are written, one after the other.</summary>
    public IEnumerable<T> Writes<T>(IReadOnlyCollection<T> items)
    {
        _toWrite = items.Count;
        foreach (var item in items)
        {
            _written++;
            yield return item;
        }
    }
}
