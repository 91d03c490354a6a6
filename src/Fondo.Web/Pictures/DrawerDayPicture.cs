using System.Globalization;
using System.Net;
using System.Text;
using Fondo.Core.Journal;
using Fondo.Core.SetUp;
using Fondo.Core.Sheets;
using Fondo.Web.Text;
using Microsoft.AspNetCore.Html;

namespace Fondo.Web.Pictures;

/// <summary>A drawer's day: the cash that should be there against time, with what happened beside the sales as marks, and the counts as
/// points.
/// Each mark opens its ticket.</summary>
internal static class DrawerDayPicture
{
    private const int Wide = 960, High = 318, Lanes = 3, Left = 64, Right = 18, Top = 18, Below = 78, MarkBelow = 28, MarkLine = 268;

    /// <param name="width">So wide and high it is drawn: its texts keep their size.</param>
    /// <param name="noted">A moment to be marked, and what happened at it.</param>
    public static IHtmlContent Of(DrawerDay drawer, Setup setup, int width = Wide, int height = High,
        (DateTimeOffset At, string Says)? noted = null) =>
        drawer.Steps.IsEmpty ? HtmlString.Empty : new Drawing(drawer, setup, width, height, noted?.At).Of(noted);

    /// <summary>One picture while it is drawn, with its scales.</summary>
    private sealed class Drawing
    {
        private readonly StringBuilder _svg = new();
        private readonly DrawerDay _drawer;
        private readonly Setup _setup;
        private readonly int _width, _height, _bottom;
        private readonly DateTimeOffset _from, _until;
        private readonly double _seconds;
        private readonly long _highest, _lowest;

        public Drawing(DrawerDay drawer, Setup setup, int width, int height, DateTimeOffset? noted)
        {
            (_drawer, _setup, _width, _height, _bottom) = (drawer, setup, width, height, height - Below);
            (_from, _until) = (drawer.Steps[0].Event.At, drawer.Counts.Select(c => c.Count.At).Append(drawer.Steps[^1].Event.At).Max());
            _until = noted is { } late && late > _until && late - _until < TimeSpan.FromHours(6) ? late : _until;
            _seconds = Math.Max(60, (_until - _from).TotalSeconds);
            _highest = Math.Max(1, Math.Max(drawer.Steps.Max(s => s.Level.Minor),
                drawer.Counts.Select(c => c.Count.Cash.Minor).DefaultIfEmpty().Max()));
            _lowest = Math.Min(0, drawer.Steps.Min(s => s.Level.Minor));
        }

        public HtmlString Of((DateTimeOffset At, string Says)? noted)
        {
            _svg.Append(CultureInfo.InvariantCulture,
                $"<svg class=\"drawer-day\" viewBox=\"0 0 {_width} {_height}\" role=\"group\" "
                    + $"aria-label=\"{WebUtility.HtmlEncode(Describe(_drawer, _setup))}\">");
            Axes();
            Level();
            Marks();
            Counts();
            if (noted is { } moment && moment.At >= _from && moment.At <= _until)
            {
                Note(moment.At, moment.Says);
            }

            return new HtmlString(_svg.Append("</svg>").ToString());
        }

        private double X(DateTimeOffset at) => Left + ((at - _from).TotalSeconds / _seconds * (_width - Left - Right));

        private double Y(long minor) => _bottom - ((minor - _lowest) / (double)(_highest - _lowest) * (_bottom - Top));

        private void Axes()
        {
            foreach (var level in Levels(_lowest, _highest, _setup.Currency.Unit))
            {
                _svg.Append(CultureInfo.InvariantCulture,
                    $"<path class=\"grid\" d=\"M{Left} {N(Y(level))}H{_width - Right}\"/><text class=\"money\" x=\"{Left - 8}\" "
                        + $"y=\"{N(Y(level) + 4)}\">{Say.Amount(new Core.Amounts.Money(level), _setup.Currency)}</text>");
            }

            var hours = Math.Max(1, (int)Math.Ceiling(_seconds / 3600 / (_width / 96.0)));
            var first = _from.AddMinutes(60 - _from.Minute).AddSeconds(-_from.Second);
            for (var at = first; at < _until; at = at.AddHours(hours))
            {
                _svg.Append(CultureInfo.InvariantCulture,
                    $"<path class=\"hour\" d=\"M{N(X(at))} {_bottom}v5\"/><text x=\"{N(X(at))}\" y=\"{_bottom + 17}\" "
                        + $"class=\"hour\">{Say.Time(at, _setup)}</text>");
            }
        }

        // The level changes with each event and stays until the next one.
        private void Level()
        {
            _svg.Append("<path class=\"course\" d=\"");
            _svg.Append(CultureInfo.InvariantCulture, $"M{N(X(_from))} {N(Y(0))}");
            foreach (var step in _drawer.Steps.Where(s => !s.Change.IsZero))
            {
                _svg.Append(CultureInfo.InvariantCulture, $"H{N(X(step.Event.At))}V{N(Y(step.Level.Minor))}");
            }

            _svg.Append(CultureInfo.InvariantCulture, $"H{N(X(_until))}\"/>");
        }

        private void Marks()
        {
            var (lastX, lane) = (double.NegativeInfinity, 0);
            foreach (var step in _drawer.Steps.Where(s => Mark(s.Event) is not null))
            {
                var x = X(step.Event.At);
                lane = x - lastX < 15 ? (lane + 1) % Lanes : 0;
                lastX = x;
                var y = _bottom + MarkBelow + (lane * 17);
                var title =
                    $"{Say.Time(step.Event.At, _setup)} {Say.Event(step.Event.Kind)} "
                        + $"{step.Event.Id}{(step.Change.IsZero ? "" : $", {Say.Signed(step.Change, _setup.Currency)}")}";
                _svg.Append(CultureInfo.InvariantCulture,
                    $"<a href=\"/{_setup.TradingDay}/ticket/{WebUtility.UrlEncode(step.Event.Id.Value)}\" "
                        + $"aria-label=\"{WebUtility.HtmlEncode(title)}\"><title>{WebUtility.HtmlEncode(title)}</title>"
                        + $"<path class=\"stem\" d=\"M{N(x)} {N(Y(step.Level.Minor))}V{y - 8}\"/>"
                        + $"<rect class=\"reach\" x=\"{N(x - 9)}\" y=\"{y - 9}\" width=\"18\" height=\"18\"/>"
                        + $"{Shape(Mark(step.Event)!, x, y)}</a>");
            }
        }

        private void Counts()
        {
            foreach (var count in _drawer.Counts)
            {
                var (x, expected, counted) = (X(count.Count.At), Y(count.Expected.Minor), Y(count.Count.Cash.Minor));
                var side = count.Variance.Sign < 0 ? "short" : count.Variance.Sign > 0 ? "over" : "even";
                _svg.Append(CultureInfo.InvariantCulture,
                    $"<g class=\"counted {side}\"><title>{WebUtility.HtmlEncode(Counted(count, _setup))}</title><path d=\"M{N(x)} "
                        + $"{N(expected)}V{N(counted)}\"/><circle cx=\"{N(x)}\" cy=\"{N(counted)}\" r=\"4.5\"/></g>");
            }
        }

        private void Note(DateTimeOffset at, string says)
        {
            var x = X(at);
            _svg.Append(CultureInfo.InvariantCulture,
                $"<path class=\"noted\" d=\"M{N(x)} {Top - 8}V{_bottom}\"/><text class=\"noted\" "
                    + $"text-anchor=\"{(x > _width * 0.6 ? "end" : "start")}\" x=\"{N(x > _width * 0.6 ? x - 6 : x + 6)}\" "
                    + $"y=\"{Top + 2}\">{WebUtility.HtmlEncode(says)}</text>");
        }
    }

    /// <summary>What one can see of events that are not ordinary sales; null for these.</summary>
    public static string? Mark(JournalEvent e) => e switch
    {
        CashMovement { Kind: EventKind.Drop or EventKind.PaidOut } => "out",
        CashMovement => "in",
        NoSale => "no-sale",
        VoidEvent => "void",
        Ticket { Kind: EventKind.Refund } => "refund",
        _ => null,
    };

    /// <summary>Out of the drawer points down, into it up; a cross is a void, a ring a no-sale, a diamond a refund.</summary>
    public static string Shape(string mark, double x, double y = MarkLine)
    {
        var (cx, cy) = (N(x), N(y));
        return mark switch
        {
            "out" => $"<path class=\"mark\" d=\"M{N(x - 6)} {N(y - 5)}h12l-6 10z\"/>",
            "in" => $"<path class=\"mark\" d=\"M{N(x - 6)} {N(y + 5)}h12l-6 -10z\"/>",
            "void" => $"<path class=\"mark line\" d=\"M{N(x - 5)} {N(y - 5)}l10 10m0 -10l-10 10\"/>",
            "refund" => $"<path class=\"mark\" d=\"M{cx} {N(y - 6)}l6 6-6 6-6-6z\"/>",
            _ => $"<circle class=\"mark line\" cx=\"{cx}\" cy=\"{cy}\" r=\"4.5\"/>",
        };
    }

    private static IEnumerable<long> Levels(long lowest, long highest, long unit)
    {
        long[] steps = [10, 20, 50, 100, 200, 500, 1_000, 2_000, 5_000, 10_000, 50_000];
        var step = steps.Select(s => s * unit).FirstOrDefault(s => (highest - lowest) / s <= 5, 100_000 * unit);
        for (var level = lowest / step * step; level <= highest; level += step)
        {
            yield return level;
        }
    }

    private static string Counted(DrawerCount count, Setup setup) =>
        $"{Say.Time(count.Count.At, setup)} counted {Say.Amount(count.Count.Cash, setup.Currency)}, expected "
            + $"{Say.Amount(count.Expected, setup.Currency)}"
            + $"{(count.Variance.IsZero ? "" : $": {Say.Variance(count.Variance, setup.Currency)}")}";

    private static string Describe(DrawerDay drawer, Setup setup) =>
        $"Drawer {drawer.Session.Drawer} from {Say.Time(drawer.Steps[0].Event.At, setup)} to "
        + $"{Say.Time(drawer.Steps[^1].Event.At, setup)}: at the end {Say.Amount(drawer.Level, setup.Currency)} expected. "
        + string.Join("; ", drawer.Counts.Select(c => Counted(c, setup)));

    private static string N(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);
}
