using Fondo.Cli;
using Fondo.Core.Amounts;
using Fondo.Files;
using Fondo.Standins.Days;
using Fondo.Store;
using NetArchTest.Rules;

namespace Fondo.Core.Tests;

/// <summary>The arrows of docs/architecture.md.</summary>
public sealed class Architecture
{
    private static readonly string[] _outside = ["Microsoft.EntityFrameworkCore", "Microsoft.AspNetCore", "Sylvan", "System.IO", "System.Net", "System.Text.Json"];

    [Fact]
    public void The_core_knows_nobody() => Holds(Types.InAssembly(typeof(Money).Assembly).Should().NotHaveDependencyOnAny([.. _outside, "Fondo.Files", "Fondo.Store", "Fondo.Web", "Fondo.Standins"]));

    /// <summary>Clocks, threads, input and output are banned symbol by symbol, and the build fails on them; here only that the list is there and says so.</summary>
    [Theory]
    [InlineData("P:System.DateTime.Now")]
    [InlineData("P:System.DateTimeOffset.UtcNow")]
    [InlineData("T:System.Threading.Tasks.Task")]
    [InlineData("T:System.IO.File")]
    [InlineData("T:System.Console")]
    public void The_core_bans_clocks_threads_and_files(string symbol)
    {
        var core = Directory.GetParent(AppContext.BaseDirectory);
        while (core is not null && !File.Exists(Path.Combine(core.FullName, "src", "Fondo.Core", "BannedSymbols.txt")))
        {
            core = core.Parent;
        }

        Assert.Contains(File.ReadAllLines(Path.Combine(core!.FullName, "src", "Fondo.Core", "BannedSymbols.txt")), l => l.StartsWith(symbol + ";", StringComparison.Ordinal));
    }

    [Fact]
    public void Files_know_the_core_alone() => Holds(Types.InAssembly(typeof(DayFiles).Assembly).Should().NotHaveDependencyOnAny("Fondo.Store", "Fondo.Web", "Fondo.Standins", "Microsoft.EntityFrameworkCore"));

    [Fact]
    public void The_store_knows_no_pages() => Holds(Types.InAssembly(typeof(Outcome).Assembly).Should().NotHaveDependencyOnAny("Fondo.Web", "Fondo.Standins", "Microsoft.AspNetCore.Mvc"));

    [Fact]
    public void Stand_ins_know_only_the_open_formats() => Holds(Types.InAssembly(typeof(DayMaker).Assembly).Should().NotHaveDependencyOnAny("Fondo.Core", "Fondo.Files", "Fondo.Store", "Fondo.Web"));

    [Fact]
    public void The_headless_run_needs_no_database() => Holds(Types.InAssembly(typeof(ReconcileCommand).Assembly).Should().NotHaveDependencyOnAny("Fondo.Store", "Microsoft.EntityFrameworkCore"));

    private static void Holds(ConditionList conditions)
    {
        var result = conditions.GetResult();
        Assert.True(result.IsSuccessful, string.Join(", ", result.FailingTypeNames ?? []));
    }
}
