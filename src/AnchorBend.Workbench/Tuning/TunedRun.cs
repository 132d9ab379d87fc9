using AnchorBend.Compiler.Preparation;
using AnchorBend.Design;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Tuning;

/// <summary>The run of a model, with limits, samples and all, with other gains in one controller.</summary>
static class TunedRun
{
    const int Columns = 240;

    /// <param name="controller">In the model with the gains of the run.</param>
    public static TrueRunView Of(TunedController controller, CancellationToken wanted)
    {
        var prepared = controller.Prepared;
        var parameters = new ParameterSet(prepared.Model);
        var part = controller.Path;
        var plan = prepared.Compiled!.Plan;
        int Variable(string name) => plan.Representative[prepared.Model.Find($"{part}.{name}")!.Index];
        int[] wantedSignals = [Variable("r"), Variable("y"), Variable("u")];
        var keep = wantedSignals.Distinct().ToList();
        var options = DocumentRun.OptionsOf(controller.Document) with { Keep = keep };
        using var run = new RunSession(prepared, parameters, options);
        run.Advance(new PauseAt(), wanted);
        wanted.ThrowIfCancellationRequested();
        using var trace = run.Trace;
        double[] Column(int v) => trace.Has(v) ? trace.Column(v) : [.. Enumerable.Repeat(parameters.Values[v], trace.Rows)];
        var times = trace.Times.ToArray();
        var (setPoint, measured, effort) = (Column(wantedSignals[0]), Column(wantedSignals[1]), Column(wantedSignals[2]));
        RunCurve Curve(double[] values)
        {
            using var one = Trace.Of([0], times, [values]);
            var reduced = TraceReduction.Reduce(one, [0], options.Start, options.End, Columns)[0];
            return new RunCurve(reduced.Times, [.. reduced.Values.Select(x => double.IsFinite(x) ? x : 0)]);
        }

        return new TrueRunView(
            Curve([.. setPoint.Zip(measured, (r, y) => r - y)]),
            Curve(effort),
            AtLimit(controller.Limits, times, effort),
            run.Failure is { } f ? $"{f.Message} {f.Advice}" : null
        );
    }

    /// <summary>Stretches in which the controller's output stays at a limit of its own.</summary>
    static List<StretchView> AtLimit((double? Low, double? High) limits, double[] times, double[] values)
    {
        var stretches = new List<StretchView>();
        if (limits is (null, null))
            return stretches;
        var since = double.NaN;
        for (var row = 0; row < times.Length; row++)
        {
            var at = values[row] >= limits.High || values[row] <= limits.Low;
            if (at && double.IsNaN(since))
                since = times[row];
            if (at && row < times.Length - 1 || double.IsNaN(since))
                continue;
            if (times[row] > since)
                stretches.Add(new StretchView(since, times[row]));
            since = double.NaN;
        }

        return stretches;
    }
}
