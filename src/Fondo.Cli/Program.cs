using Fondo.Cli;

return args switch
{
    ["reconcile", .. var rest] => ReconcileCommand.Run(rest, Console.Out, Console.Error),
    ["make-day", .. var rest] => MakeDayCommand.Run(rest, Console.Out, Console.Error),
    ["verify", .. var rest] => await VerifyCommand.Run(rest, Console.Out, Console.Error),
    ["backup", .. var rest] => await BackupCommands.Backup(rest, Console.Out, Console.Error),
    ["restore", .. var rest] => await BackupCommands.Restore(rest, Console.Out, Console.Error),
    _ => Usage.Fail(Console.Error, "expected reconcile, make-day, verify, backup or restore"),
};
