using System.CommandLine;
using AnchorBend.Exploration;
using AnchorBend.Simulation;
using AnchorBend.Workbench.Models;
using AnchorBend.Workbench.Studies;
using AnchorBend.Workbench.Studies.Engines;

namespace AnchorBend.Cli;

/// <summary>What commands of many runs have in common: the model, what varies, what is measured, how many run at once.</summary>
sealed class StudyArguments
{
    public Argument<FileInfo> File { get; } = CommandParts.File();

    public Option<string[]> Vary { get; } =
        new("--vary")
        {
            Description =
                "What varies: 'name=a,b,c', 'name=from:to:count', 'name=from:to', 'name=± 5 %' or a distribution such as "
                + "'name=normal(mean, deviation)', with units if wanted and 'log' behind a range for even ratios; once for each factor",
            AllowMultipleArgumentsPerToken = true,
            Required = true,
        };

    public Option<string[]> Measure { get; } =
        new("--measure")
        {
            Description = "'name = expression' or an expression as for 'measure'; once for each column; without any, those of the document",
            AllowMultipleArgumentsPerToken = true,
        };

    public Option<ulong> Seed { get; } = new("--seed") { Description = "The same seed gives the same runs", DefaultValueFactory = _ => 1 };

    public Option<int?> Jobs { get; } = new("--jobs") { Description = "How many runs at once; as many as there are processors without it" };

    public RunArguments Run { get; } = new();

    public void AddTo(Command command)
    {
        command.Arguments.Add(File);
        foreach (var option in (Option[])[Vary, Measure, Seed, Jobs])
            command.Options.Add(option);
        Run.AddTo(command);
    }

    /// <summary>What was asked for, read and checked.</summary>
    /// <param name="needsMeasure">Whether nothing to measure is an error.</param>
    /// <exception cref="CommandException">Something of it makes no study.</exception>
    public Study Read(ParseResult parsed, bool needsMeasure)
    {
        var model = ModelFile.Read(parsed.GetValue(File)!);
        var set = CommandParts.Settings(parsed.GetValue(Run.Set));
        // What is wrong in all rows is told at once.
        var prepared = model.PrepareToRun(set);
        List<StudyMeasure> measures = parsed.GetValue(Measure) is { Length: > 0 } own
            ? [.. own.Select(Named)]
            : [.. (model.Document?.Measures ?? []).Values.Select(m => new StudyMeasure(m.Name, m.Expression))];
        if (needsMeasure && measures.Count == 0)
            throw new CommandException("Say what to measure, such as --measure \"deepest = maximum(depth)\".");
        var factors = new List<StudyFactor>();
        foreach (var text in parsed.GetValue(Vary)!)
        {
            var factor = StudyFactor.Parse(text, path => StudyPlan.PresentOf(model.Document, prepared, path));
            if (
                !RowSettings.IsOne(factor.Path)
                && prepared.Model.Find(factor.Path) is null
                && !prepared.Model.Words.ContainsKey(factor.Path)
            )
                throw new CommandException($"There is no parameter '{factor.Path}' to vary.");
            factors.Add(factor);
        }

        var options = Run.OptionsOf(parsed, model);
        if (options.Problem() is { } problem)
            throw new CommandException(problem);
        return new Study(model, set, factors, measures, options, Math.Max(1, parsed.GetValue(Jobs) ?? Environment.ProcessorCount))
        {
            Present = [.. factors.Select(f => StudyPlan.PresentOf(model.Document, prepared, f.Path))],
        };
    }

    static StudyMeasure Named(string text)
    {
        var equal = text.IndexOf('=', StringComparison.Ordinal);
        // A comparison or a named argument is no name of a measure.
        var name = equal > 0 ? text[..equal].Trim() : "";
        return equal > 0 && equal + 1 < text.Length && text[equal + 1] != '=' && name.All(c => c is not ('(' or '<' or '>' or '!' or ':'))
            ? new StudyMeasure(name, text[(equal + 1)..].Trim())
            : new StudyMeasure(text.Trim(), text);
    }

    /// <summary>Does a command's work; what makes no study is told as an error of the command.</summary>
    public static Task<int> Guarded(Func<int> work) =>
        Task.FromResult(
            CommandParts.Guarded(() =>
            {
                try
                {
                    return work();
                }
                catch (ExplorationException e)
                {
                    throw new CommandException($"{e.Message} {e.Advice}");
                }
                catch (Exception e) when (e is InvalidDataException or EngineException)
                {
                    throw new CommandException(e.Message);
                }
            })
        );

    /// <summary>A study as the command line asks for it.</summary>
    public sealed record Study(
        ModelSource Model,
        IReadOnlyDictionary<string, string> Set,
        IReadOnlyList<StudyFactor> Factors,
        IReadOnlyList<StudyMeasure> Measures,
        RunOptions Options,
        int Jobs
    )
    {
        /// <summary>What factors have now.</summary>
        public IReadOnlyList<string?> Present { get; init; } = [];

        public StudyRun Of(StudyTable table, IReadOnlyList<StudyMeasure>? more = null) =>
            new(Model, Set, table, [.. Measures, .. more ?? []], _ => Options);
    }
}
