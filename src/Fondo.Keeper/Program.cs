using Fondo.Cli;
using Fondo.Keeper;

return args switch
{
    ["verify", .. var rest] => await VerifyCommand.Run(rest, Console.Out, Console.Error),
    ["backup", .. var rest] => await BackupCommands.Backup(rest, Console.Out, Console.Error),
    ["restore", .. var rest] => await BackupCommands.Restore(rest, Console.Out, Console.Error),
    _ => Usage.Fail(Console.Error, "expected verify, backup or restore"),
};
