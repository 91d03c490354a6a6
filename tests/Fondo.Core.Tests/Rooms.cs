using System.Reflection;
using NetArchTest.Rules;

namespace Fondo.Core.Tests;

/// <summary>The rooms of the core, and the arrows between them: each knows only those before it.</summary>
public sealed class Rooms
{
    /// <summary>In this order: a room may use those that stand before it, and none behind.</summary>
    private static readonly string[] _order =
        ["Amounts", "Journal", "Proof", "Cash", "SetUp", "Days", "Cells", "Matching", "Checks", "Reconciling", "Sheets", "Entries",
            "Leads", "Evidence", "Custody", "Banking", "Books", "Closing"];

    /// <summary>Rooms side by side, which do not know each other.</summary>
    private static readonly (string, string)[] _apart = [("Cells", "Matching"), ("Cells", "Checks"), ("Matching", "Checks"),
        ("Sheets", "Leads"), ("Evidence", "Entries"), ("Cash", "SetUp")];

    [Fact]
    public void Arrows_go_one_way()
    {
        var rooms = typeof(Fondo.Core.Amounts.Money).Assembly.GetTypes().Select(t => t.Namespace)
            .Where(n => n?.StartsWith("Fondo.Core.", StringComparison.Ordinal) == true).Select(n => n!["Fondo.Core.".Length..]).Distinct();
        Assert.Equal(_order.Order(), rooms.Order());
        for (var i = 0; i < _order.Length; i++)
        {
            string[] later = [.. _order[(i + 1)..].Concat(_apart.Where(a => a.Item2 == _order[i]).Select(a => a.Item1))
                .Concat(_apart.Where(a => a.Item1 == _order[i]).Select(a => a.Item2)).Select(r => $"Fondo.Core.{r}")];
            if (later.Length > 0)
            {
                var result = Types.InAssembly(typeof(Fondo.Core.Amounts.Money).Assembly).That().ResideInNamespace($"Fondo.Core.{_order[i]}")
                    .Should().NotHaveDependencyOnAny(later).GetResult();
                Assert.True(result.IsSuccessful, $"{_order[i]}: {string.Join(", ", result.FailingTypeNames ?? [])}");
            }
        }
    }

    /// <summary>What is worked out is a plain value: nothing in it is filled in later.</summary>
    [Fact]
    public void Values_hold_no_state() =>
        Assert.Empty(
            from type in typeof(Fondo.Core.Amounts.Money).Assembly.GetTypes()
            where type.Namespace?.StartsWith("Fondo.Core", StringComparison.Ordinal) == true && type.GetMethod("<Clone>$") is not null
            from field in type.GetFields(BindingFlags.Instance | BindingFlags.NonPublic | BindingFlags.Public)
            where !field.IsInitOnly
            select $"{type.Name}.{field.Name}");
}
