using Vellumkeep.Cli;
using Vellumkeep.Cli.Terminal;

return await CommandLine.RunAsync(args, Surroundings.OfProcess);
