using Fondo.Bench;

return args switch
{
    [] => DayBench.Run(Console.Out) | await BoardBench.Run(Console.Out) | CoreBench.Run(),
    ["day"] => DayBench.Run(Console.Out),
    ["leads", .. var seeds] => LeadsBench.Run(Console.Out, seeds is [var n] && int.TryParse(n, out var days) ? days : 60),
    ["core"] => CoreBench.Run(),
    ["intake"] => await IntakeBench.Run(Console.Out),
    ["find"] => await FindBench.Run(Console.Out),
    ["board"] => await BoardBench.Run(Console.Out),
    _ => Fail(),
};

static int Fail()
{
    Console.Error.WriteLine("fondo bench: expected day, core, board, intake, find or leads, or nothing for all of them");
    return 2;
}
