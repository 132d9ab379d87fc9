using System.CommandLine;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Cli;

/// <summary>The options of a run that several commands have: what is not given is taken from the model document.</summary>
sealed class RunArguments
{
    readonly Option<string?> to = new("--to")
    {
        Description = "End time, as in 20 or '5 min'; a model document has its own; needed for text unless a recorded run is repeated",
    };

    readonly Option<string?> method = new("--method")
    {
        Description =
            string.Join("; ", MethodDescription.All.Select(m => $"{m.Name}: {m.Guidance}")) + ". Without it that of the document, or auto",
    };

    readonly Option<double?> step = new("--step") { Description = "Step of a fixed-step method in s; 1e-3 without it" };

    readonly Option<string?> largest = new("--max-step")
    {
        Description =
            "Largest step of an adaptive method, as in 1e-3 or '2 ms': for short pulses after long rest, which an error "
            + "estimate cannot see",
    };

    readonly Option<double?> rtol = new("--rtol") { Description = "Relative tolerance; 1e-6 without it" };
    readonly Option<double?> atol = new("--atol") { Description = "Absolute tolerance; 1e-9 without it" };
    readonly Option<double?> every = new("--every") { Description = "Distance of output points in s" };
    readonly Option<string?> at = new("--at") { Description = "Output times in s, separated by commas" };

    readonly Option<string?> start = new("--start")
    {
        Description = "given: from the start values; steady: at rest, with the start values as guesses",
    };

    readonly Option<string?> steady = new("--steady") { Description = "Parts that start at rest, separated by commas" };

    public RunArguments()
    {
        method.AcceptOnlyFromAmong([.. MethodDescription.All.Select(m => m.Name)]);
        start.AcceptOnlyFromAmong("given", "steady");
    }

    public Option<string[]> Set { get; } = CommandParts.Set();

    public void AddTo(Command command)
    {
        foreach (var option in (Option[])[to, method, step, largest, rtol, atol, every, at, start, steady, Set])
            command.Options.Add(option);
    }

    /// <param name="end">When a run ends that has no end of its own; null where it has to be said.</param>
    /// <exception cref="CommandException">A value cannot be read, or the end is missing.</exception>
    public RunOptions OptionsOf(ParseResult parsed, ModelSource model, double? end = null)
    {
        var times = parsed.GetValue(at) is { } list ? CommandParts.Numbers(list, "--at") : null;
        var own = model.Document is { } document ? Own(document) : null;
        var options = (
            own
            ?? new RunOptions
            {
                End = parsed.GetValue(to) is { } given
                    ? CommandParts.Seconds(given, "--to")
                    : end ?? throw new CommandException("--to is missing: say how long to run."),
            }
        ) with
        {
            OutputTimes = times,
        };
        if (parsed.GetValue(to) is { } until)
            options = options with { End = CommandParts.Seconds(until, "--to") };
        if (parsed.GetValue(method) is { } named)
            options = options with { Method = MethodDescription.Named(named)!.Method };
        if (parsed.GetValue(step) is { } fixedStep)
            options = options with { Step = fixedStep };
        if (parsed.GetValue(rtol) is { } relative)
            options = options with { RelativeTolerance = relative };
        if (parsed.GetValue(atol) is { } absolute)
            options = options with { AbsoluteTolerance = absolute };
        if (parsed.GetValue(largest) is { } most)
            options = options with { LargestStep = CommandParts.Seconds(most, "--max-step") };
        if (parsed.GetValue(every) is { } distance)
            options = options with { OutputInterval = distance };
        if (parsed.GetValue(start) is { } how)
            options = options with { SteadyStart = how == "steady" };
        if (parsed.GetValue(steady) is { } parts)
            options = options with { SteadyParts = CommandParts.Names(parts) };
        // Who asks for certain points wants those and no others.
        return options with { RecordEvents = times is null && parsed.GetValue(every) is null };
    }

    static RunOptions Own(ModelDocument document)
    {
        try
        {
            return DocumentRun.OptionsOf(document);
        }
        catch (DocumentException e)
        {
            throw new CommandException(e.Message);
        }
    }
}
