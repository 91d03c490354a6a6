using Fondo.Bench;

return args switch
{
    [] => DayBench.Run(Console.Out) | await BoardBench.Run(Console.Out) | CoreBench.Run(),
    ["day"] => DayBench.Run(Console.Out),
    ["core"] => CoreBench.Run(),
    ["board"] => await BoardBench.Run(Console.Out),
    _ => Fail(),
};

static int Fail()
{
    Console.Error.WriteLine("fondo bench: expected day, core or board, or nothing for all of them");
    return 2;
}
