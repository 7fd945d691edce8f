using Vellumkeep.Cli;

return await CommandLine.RunAsync(args, Surroundings.OfProcess);
