using System.CommandLine;
using AnchorBend.Cli;

var root = new RootCommand("Anchor Bend: check, run, linearise, tune, verify and measure control models without a browser.")
{
    CheckCommand.Create(),
    RunCommand.Create(),
    LinearCommand.Create(),
    SteadyCommand.Create(),
    ResponseCommand.Create(),
    FitCommand.Create(),
    TuneCommand.Create(),
    VerifyCommand.Create(),
    TestCommand.Create(),
    FalsifyCommand.Create(),
    MeasureCommand.Create(),
    SweepCommand.Create(),
    SweepCommand.Worker(),
    MonteCarloCommand.Create(),
    OptimiseCommand.Create(),
    CompareCommand.Create(),
    AlternativesCommand.Create(),
    TextCommand.Create(),
    CodeCommand.Create(),
    UnitCommand.Create(),
    TargetCommand.Create(),
    CompletionCommand.Create(),
};
return root.Parse(args).Invoke();
