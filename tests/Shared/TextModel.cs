using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flattening;
using AnchorBend.Simulation;

namespace AnchorBend.Tests;

/// <summary>Models written as text, prepared and run in one line, for tests.</summary>
static class TextModel
{
    /// <summary>Prepares the last class of a text; the text may leave out the class around declarations and equations.</summary>
    public static PreparedModel Prepare(string text, IReadOnlyDictionary<string, string>? set = null)
    {
        if (
            !text.Contains("end ", StringComparison.Ordinal)
            || !text.TrimStart().StartsWith("model", StringComparison.Ordinal)
                && !text.TrimStart().StartsWith("block", StringComparison.Ordinal)
        )
            text = $"model Test\n{text}\nend Test;";
        var (classes, errors) = Parser.ParseFile(text);
        Assert.Empty(errors);
        var overrides = (set ?? new Dictionary<string, string>()).ToDictionary(s => s.Key, s => Parser.ParseField(s.Value));
        var (model, findings) = Flattener.Flatten(classes[^1], new ClassList(classes, PartCatalog.Standard), overrides);
        return PreparedModel.Prepare(model, findings, SourceMap.Empty);
    }

    public static RunResult Run(string text, double end, RunOptions? options = null, IReadOnlyDictionary<string, string>? set = null)
    {
        var prepared = Prepare(text, set);
        Assert.True(
            prepared.CanRun,
            string.Join(
                "\n",
                prepared.Findings.Where(f => f.Severity == Severity.Error).Select(f => $"{f.Part} {f.Item} {f.Message} {f.Suggestion}")
            )
        );
        return Run(prepared, (options ?? new RunOptions { End = end }) with { End = end });
    }

    public static RunResult Run(PreparedModel prepared, RunOptions options)
    {
        using var simulator = new Simulator(prepared.Compiled!, new ParameterSet(prepared.Model), options);
        return simulator.Run();
    }

    /// <summary>Runs and reads one variable at given times.</summary>
    public static double[] Values(
        string text,
        string name,
        double[] times,
        RunOptions? options = null,
        IReadOnlyDictionary<string, string>? set = null
    )
    {
        var prepared = Prepare(text, set);
        Assert.True(
            prepared.CanRun,
            string.Join(
                "\n",
                prepared.Findings.Where(f => f.Severity == Severity.Error).Select(f => $"{f.Part} {f.Item} {f.Message} {f.Suggestion}")
            )
        );
        var result = Run(
            prepared,
            (
                options
                ?? new RunOptions
                {
                    End = times[^1],
                    RelativeTolerance = 1e-8,
                    AbsoluteTolerance = 1e-10,
                }
            ) with
            {
                End = times[^1],
                OutputTimes = times,
            }
        );
        Assert.Null(result.Failure);
        var place = prepared.Compiled!.Plan.RepresentativeOf(name);
        Assert.True(place >= 0, $"no variable {name}");
        return [.. times.Select(t => result.Trace[Enumerable.Range(0, result.Trace.Rows).Last(r => result.Trace.Times[r] <= t), place])];
    }
}
