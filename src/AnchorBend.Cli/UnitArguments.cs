using System.CommandLine;
using AnchorBend.Delivery;

namespace AnchorBend.Cli;

/// <summary>Which part of a model runs in steps of equal length, and how: what code and exchange units have in common.</summary>
/// <param name="usual">The method where none is named.</param>
sealed class UnitArguments(string usual)
{
    readonly Option<string> part = new("--part")
    {
        Description = "The part, with the parts it is in: Drive.Controller; the whole model without it",
        DefaultValueFactory = _ => "",
    };

    readonly Option<string> step = new("--step")
    {
        Description = "Time from step to step, as in 0.001 or '1 ms'",
        DefaultValueFactory = _ => "1 ms",
    };

    readonly Option<string> method = new("--method")
    {
        Description = "How what is continuous goes from step to step: euler, heun or rk4",
        DefaultValueFactory = _ => usual,
    };

    readonly Option<string?> alternative = new("--alternative")
    {
        Description = "The realisation of a slot that is meant; the one that is in without it",
    };

    readonly Option<bool> single = new("--float") { Description = "Numbers of 32 bits instead of 64" };

    readonly Option<string?> tunable = new("--tunable")
    {
        Description = "Parameters that can be changed while it runs, separated by commas; 'none'; all given as numbers without it",
    };

    public void AddTo(Command command)
    {
        method.AcceptOnlyFromAmong([.. CodeRequest.Methods.Keys]);
        foreach (var option in new Option[] { part, alternative, step, method, single, tunable })
            command.Options.Add(option);
    }

    public CodeRequest Request(ParseResult parsed) =>
        new(
            parsed.GetValue(part)!,
            CommandParts.Seconds(parsed.GetValue(step)!, "--step"),
            CodeRequest.Methods[parsed.GetValue(method)!],
            parsed.GetValue(single),
            parsed.GetValue(tunable) switch
            {
                null => null,
                "none" => [],
                var names => CommandParts.Names(names),
            },
            parsed.GetValue(alternative)
        );
}
