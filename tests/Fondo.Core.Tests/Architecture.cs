using System.Reflection.Metadata;
using System.Reflection.PortableExecutable;
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
    private static readonly string[] _outside =
        ["Microsoft.EntityFrameworkCore", "Microsoft.AspNetCore", "Sylvan", "System.IO", "System.Net", "System.Text.Json"];

    [Fact]
    public void The_core_knows_nobody() => Holds(Types.InAssembly(typeof(Money).Assembly).Should()
        .NotHaveDependencyOnAny([.. _outside, "Fondo.Files", "Fondo.Store", "Fondo.Web", "Fondo.Standins"]));

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

    [Fact]
    public void Files_know_the_core_alone() => Holds(Types.InAssembly(typeof(DayFiles).Assembly).Should()
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
