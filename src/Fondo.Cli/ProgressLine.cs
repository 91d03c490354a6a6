namespace Fondo.Cli;

/// <summary>One line on the terminal that says what is being done, once it takes longer than a second. Nothing where errors go to a
/// file.</summary>
internal sealed class ProgressLine : IDisposable
{
    private static readonly TimeSpan _patience = TimeSpan.FromSeconds(1), _beat = TimeSpan.FromSeconds(0.5);

    private readonly Lock _lock = new();
    private readonly DateTime _start = DateTime.UtcNow;
    private readonly Timer? _timer;
    private string _doing;
    private int _shown;
    private bool _isOver;

    public ProgressLine(string doing)
    {
        _doing = doing;
        _timer = Console.IsErrorRedirected ? null : new Timer(_ => Show(), null, _patience, _beat);
    }

    public void Now(string doing) => _doing = doing;

    public void Dispose()
    {
        _timer?.Dispose();
        lock (_lock)
        {
            if (!_isOver && _shown > 0)
            {
                Console.Error.Write($"\r{new string(' ', _shown)}\r");
            }

            _isOver = true;
        }
    }

    private void Show()
    {
        lock (_lock)
        {
            if (!_isOver)
            {
                var line = $"fondo: {_doing}, {(int)(DateTime.UtcNow - _start).TotalSeconds} s";
                Console.Error.Write($"\r{line.PadRight(_shown)}");
                _shown = line.Length;
            }
        }
    }
}
