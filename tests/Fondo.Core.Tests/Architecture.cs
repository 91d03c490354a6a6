using System.Reflection.Metadata;
using System.Reflection.Metadata.Ecma335;
using System.Reflection.PortableExecutable;
using Fondo.Cli;
using Fondo.Core.Amounts;
using Fondo.Core.Books;
using Fondo.Core.SetUp;
using Fondo.Files;
using Fondo.Standins.Days;
using Fondo.Store;
using NetArchTest.Rules;

namespace Fondo.Core.Tests;

/// <summary>The arrows of docs/architecture.md.</summary>
public sealed class Architecture
{
    private static readonly string[] _outside =
        ["Microsoft.EntityFrameworkCore", "Microsoft.AspNetCore", "Sylvan", "System.IO", "System.Net", "System.Text.Json"];

    [Fact]
    public void The_core_knows_nobody() => Holds(Types.InAssembly(typeof(Money).Assembly).Should()
        .NotHaveDependencyOnAny([.. _outside, "Fondo.Wording", "Fondo.Files", "Fondo.Store", "Fondo.Web", "Fondo.Standins"]));

    /// <summary>What the compiled core calls: no clock, no thread, no file, no console.</summary>
    [Fact]
    public void The_core_calls_no_clock_thread_or_file()
    {
        using var file = new PEReader(File.OpenRead(typeof(Money).Assembly.Location));
        var metadata = file.GetMetadataReader();
        string[] types = ["Task", "Thread", "ThreadPool", "Timer", "File", "FileStream", "Directory", "Console", "Process", "HttpClient"];
        Assert.Empty(metadata.TypeReferences.Select(t => metadata.GetString(metadata.GetTypeReference(t).Name)).Intersect(types));
        var calls = metadata.MemberReferences.Select(m => metadata.GetString(metadata.GetMemberReference(m).Name)).ToHashSet();
        Assert.Contains("get_UtcTicks", calls); // the references are really read
        Assert.Empty(calls.Intersect(["get_Now", "get_UtcNow", "get_Today", "GetTimestamp", "GetUtcNow", "get_TickCount64", "NewGuid"]));
    }

    /// <summary>Names of items as books and close documents freeze them; and what is thrown at a caller who breaks the rules.</summary>
    private static readonly string[] _namesOfThings =
    [
        ", over and short", "the float of ", "wrong change given", "a ticket that should have been voided", "a sale that was not rung",
        "a refund that was not rung", " that was not rung", "loose in the safe", "a ticket on hold at ", ", fees to be billed",
        "differences and entries", ", paid in part", ", paid by the processor", ", in no batch", ", paid and not delivered",
        ", not paid yet", "closed the day", "statement missing since ",
        "Not conserved: cells say ", ", matches and open items say ", "Too many amounts.", "A weight cannot be negative.",
        "Nothing to share by.", " was matched twice.",
    ];

    /// <summary>What the compiled core could say to a person: texts of more than two words. The names that the books write, and what is
    /// thrown at whoever calls it wrongly, are no sentences to a person.</summary>
    [Fact]
    public void The_core_speaks_facts()
    {
        using var file = new PEReader(File.OpenRead(typeof(Money).Assembly.Location));
        var metadata = file.GetMetadataReader();
        var said = new List<string>();
        for (var at = MetadataTokens.UserStringHandle(1); !at.IsNil; at = metadata.GetNextHandle(at))
        {
            said.Add(metadata.GetUserString(at));
        }

        Assert.Contains("over-short", said); // the texts are really read
        var names = typeof(BookItem).GetFields().Select(f => (string)f.GetRawConstantValue()!)
            .Concat(AccountUse.Standard.SelectMany(u => new[] { u.Name, u.Account })).Concat(TenderKind.Standard.Select(t => t.Account))
            .Concat(_namesOfThings).ToHashSet();
        Assert.DoesNotContain(said, s => s.Split(' ').Count(w => w.Count(char.IsLetter) > 1) > 2 && !names.Contains(s));
    }

    [Fact]
    public void The_wording_knows_the_core_alone() => Holds(Types.InAssembly(typeof(LeadText).Assembly).Should()
        .NotHaveDependencyOnAny([.. _outside, "Fondo.Files", "Fondo.Store", "Fondo.Web", "Fondo.Standins"]));

    [Fact]
    public void Files_know_the_core_and_its_wording_alone() => Holds(Types.InAssembly(typeof(DayFiles).Assembly).Should()
        .NotHaveDependencyOnAny("Fondo.Store", "Fondo.Web", "Fondo.Standins", "Microsoft.EntityFrameworkCore"));

    [Fact]
    public void The_store_knows_no_pages() => Holds(Types.InAssembly(typeof(Outcome).Assembly).Should()
        .NotHaveDependencyOnAny("Fondo.Web", "Fondo.Standins", "Microsoft.AspNetCore.Mvc"));

    [Fact]
    public void Stand_ins_know_only_the_open_formats() => Holds(Types.InAssembly(typeof(DayMaker).Assembly).Should()
        .NotHaveDependencyOnAny("Fondo.Core", "Fondo.Files", "Fondo.Store", "Fondo.Web"));

    [Fact]
    public void The_headless_run_needs_no_database() => Holds(Types.InAssembly(typeof(ReconcileCommand).Assembly).Should()
        .NotHaveDependencyOnAny("Fondo.Store", "Microsoft.EntityFrameworkCore"));

    private static void Holds(ConditionList conditions)
    {
        var result = conditions.GetResult();
        Assert.True(result.IsSuccessful, string.Join(", ", result.FailingTypeNames ?? []));
    }
}
