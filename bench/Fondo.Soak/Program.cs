using Fondo.Soak;

if (Options.Of(args) is not { } options)
{
    await Console.Error.WriteLineAsync("fondo: soak [--hours N] [--kills N] [--seed S]");
    return 2;
}

return (await SoakRun.Run(options, Console.Out)).Count == 0 ? 0 : 1;
