using Fondo.Bench;

return args switch
{
    [] => DayBench.Run(Console.Out) | await BoardBench.Run(Console.Out) | CoreBench.Run(),
    ["day"] => DayBench.Run(Console.Out),
    ["leads", "crowded"] => LeadsBench.RunCrowded(Console.Out),
    ["leads", .. var numbers] => LeadsBench.Run(Console.Out, Number(numbers, 0, 60), Number(numbers, 1, LeadsBench.FirstSeed)),
    ["core"] => CoreBench.Run(),
    ["intake"] => await IntakeBench.Run(Console.Out),
    ["intake", "file", .. var numbers] => await IntakeBench.RunFile(Console.Out, Number(numbers, 0, 1_000_000)),
    ["find", .. var numbers] => await FindBench.Run(Console.Out, Number(numbers, 0, 20)),
    ["trail", .. var numbers] => await TrailBench.Run(Console.Out, Number(numbers, 0, 1_000_000)),
    ["touched", .. var numbers] =>
        await TouchedBench.Run(Console.Out, Number(numbers, 0, TouchedBench.UsualDays), Number(numbers, 1, TouchedBench.UsualTickets)),
    ["bank", .. var numbers] => await BankBench.Run(Console.Out, Number(numbers, 0, BankBench.UsualLines)),
    ["turns", .. var numbers] => await TurnsBench.Run(Console.Out, Number(numbers, 0, TurnsBench.UsualSeconds)),
    ["board"] => await BoardBench.Run(Console.Out),
    _ => Fail(),
};

static int Number(string[] numbers, int at, int otherwise) =>
    at < numbers.Length && int.TryParse(numbers[at], out var number) ? number : otherwise;

static int Fail()
{
    Console.Error.WriteLine(
        "fondo bench: expected day, core, board, bank, turns, touched, intake, find, trail or leads, or nothing for all of them");
    return 2;
}
