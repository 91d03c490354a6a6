using Fondo.Cli;

return args switch
{
    ["reconcile", .. var rest] => ReconcileCommand.Run(rest, Console.Out, Console.Error),
    ["make-day", .. var rest] => MakeDayCommand.Run(rest, Console.Out, Console.Error),
    _ => Usage.Fail(Console.Error, "expected reconcile or make-day"),
};
