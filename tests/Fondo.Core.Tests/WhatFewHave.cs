using System.Reflection;
using Fondo.Core.Amounts;
using Fondo.Core.Journal;

namespace Fondo.Core.Tests;

/// <summary>Parts of a ticket, a tender or a head that few have lie apart: they read, change and compare as if they did not.</summary>
public sealed class WhatFewHave
{
    private static readonly EventHead _head =
        new(new("L1-000001"), new("L1"), new("L1-A"), new("p04"), new(2026, 11, 21, 9, 0, 0, TimeSpan.FromHours(-5)));

    private static readonly CardSlip _card = new(new TerminalId("T-01"), "egret", "4417", "083114", "632611000123", "chip");

    private static readonly Tender _tender =
        new(TenderId.Credit, new(1100), Money.Zero, Money.Zero, Money.Zero, Money.Zero, _card, TenderResult.Approved, null, null, null);

    private static readonly Ticket _ticket = new(_head, EventKind.Sale, null, [], new(1000), Money.Zero, Money.Zero, new(100), Money.Zero,
        Money.Zero, new(1100), [_tender], null);

    public static TheoryData<string, object, string, object> Parts => new()
    {
        { "ticket", _ticket, nameof(Ticket.Original), new EventId("L1-000009") },
        { "ticket", _ticket, nameof(Ticket.Discount), new Money(50) },
        { "ticket", _ticket, nameof(Ticket.CashDiscount), new Money(51) },
        { "ticket", _ticket, nameof(Ticket.Fee), new Money(52) },
        { "ticket", _ticket, nameof(Ticket.Rounding), new Money(-2) },
        { "ticket", _ticket, nameof(Ticket.Note), "left at the desk" },
        { "ticket", _ticket, nameof(Ticket.Tax), new Money(101) },
        { "tender", _tender, nameof(Tender.Change), new Money(60) },
        { "tender", _tender, nameof(Tender.Tip), new Money(61) },
        { "tender", _tender, nameof(Tender.Cashback), new Money(62) },
        { "tender", _tender, nameof(Tender.Fee), new Money(63) },
        { "tender", _tender, nameof(Tender.Result), TenderResult.Declined },
        { "tender", _tender, nameof(Tender.Number), "1042" },
        { "tender", _tender, nameof(Tender.Name), "R. Alder" },
        { "tender", _tender, nameof(Tender.Reference), "7721" },
        { "head", _head, nameof(EventHead.Drawer), new DrawerId("L1-B") },
        { "head", _head, nameof(EventHead.Cashier), new PersonId("p05") },
        { "head", _head, nameof(EventHead.LateFrom), new DateOnly(2026, 11, 20) },
        { "head", _head, nameof(EventHead.MovedTo), new DateOnly(2026, 11, 22) },
    };

    [Theory]
    [MemberData(nameof(Parts))]
    public void Reads_back_alone(string what, object of, string part, object value)
    {
        var changed = With(of, part, value);
        foreach (var property in Readable(of))
        {
            Assert.True(Equals(property.Name == part ? value : property.GetValue(of), property.GetValue(changed))
                || property.Name is "Expected" or "Net" or "Listed" or "Counts", $"{what}: {property.Name}");
        }

        Assert.NotEqual(of, changed);
        Assert.Equal(changed, With(of, part, value));
        Assert.Equal(of, With(changed, part, of.GetType().GetProperty(part)!.GetValue(of)!));
    }

    [Fact]
    public void All_of_them_together()
    {
        foreach (var kind in Parts.Select(p => p.Data).GroupBy(p => p.Item1))
        {
            var (all, original) = (kind.First().Item2, kind.First().Item2);
            foreach (var (_, _, part, value) in kind)
            {
                all = With(all, part, value);
            }

            foreach (var (_, _, part, value) in kind)
            {
                Assert.Equal(value, all.GetType().GetProperty(part)!.GetValue(all));
                all = With(all, part, original.GetType().GetProperty(part)!.GetValue(original));
            }

            Assert.Equal(original, all);
        }
    }

    [Fact]
    public void Cards_run_alike_and_others()
    {
        Assert.Equal(_card, new(new CardUse(new TerminalId("T-01"), "egret", "chip"), "4417", "083114", "632611000123"));
        Assert.NotEqual(_card, new(new TerminalId("T-01"), "egret", "4417", "083114", "632611000123", "tap"));
        Assert.NotEqual(_card, new(new TerminalId("T-02"), "egret", "4417", "083114", "632611000123", "chip"));
        Assert.NotEqual(_card, new(new TerminalId("T-01"), "heron", "4417", "083114", "632611000123", "chip"));
    }

    /// <summary>A copy with one part set, as <c>with</c> does.</summary>
    private static object With(object of, string part, object? value)
    {
        var copy = of.GetType().GetMethod("<Clone>$") is { } clone ? clone.Invoke(of, null)! : of; // a struct is copied by boxing it anew
        var boxed = copy is EventHead head ? (object)head : copy;
        of.GetType().GetProperty(part)!.SetValue(boxed, value);
        return boxed;
    }

    private static IEnumerable<PropertyInfo> Readable(object of) =>
        of.GetType().GetProperties().Where(p => p.GetIndexParameters().Length == 0 && p.Name is not ("Lines" or "Tenders"));
}
