using Fondo.Bench;

return args switch
{
    [] or ["board"] => await BoardBench.Run(Console.Out),
    _ => Fail(),
};

static int Fail()
{
    Console.Error.WriteLine("fondo bench: expected board");
    return 2;
}
