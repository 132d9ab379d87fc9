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

    /// <exception cref="DocumentException">The model with these gains has errors.</exception>
    public static TrueRunView Of(ModelSession session, TunedLoop loop, GainsView? gains, CancellationToken wanted)
    {
        var prepared = gains is null ? loop.Prepared : With(session, loop, gains);
        var parameters = new ParameterSet(prepared.Model);
        var part = loop.Design.Part;
        var plan = prepared.Compiled!.Plan;
        int Variable(string name) => plan.Representative[prepared.Model.Find($"{part}.{name}")!.Index];
        int[] wantedSignals = [Variable("r"), Variable("y"), Variable("u")];
        var keep = wantedSignals.Distinct().ToList();
        var options = DocumentRun.OptionsOf(loop.Document) with { Keep = keep };
        using var run = new RunSession(prepared, parameters, options);
        run.Advance(new PauseAt(), wanted);
        wanted.ThrowIfCancellationRequested();
        using var trace = run.Trace;
        var curves = wantedSignals
            .Select(v =>
                trace.Has(v)
                    ? TraceReduction.Reduce(trace, [v], options.Start, options.End, Columns)[0]
                    : new ReducedCurve([options.Start, options.End], [parameters.Values[v], parameters.Values[v]])
            )
            .Select(c => new RunCurve(c.Times, [.. c.Values.Select(x => double.IsFinite(x) ? x : 0)]))
            .ToList();
        return new TrueRunView(
            curves[0],
            curves[1],
            curves[2],
            AtLimit(prepared, parameters, part, trace, wantedSignals[2]),
            run.Failure is { } f ? $"{f.Message} {f.Advice}" : null
        );
    }

    static PreparedModel With(ModelSession session, TunedLoop loop, GainsView gains)
    {
        var typed = loop.Design.Present with
        {
            Form = DesignAsks.Form(gains.Form),
            K = gains.K,
            Ti = gains.Ti ?? loop.Design.Present.Ti,
            Td = gains.Td ?? loop.Design.Present.Td,
        };
        if (!double.IsFinite(typed.K) || typed.HasIntegral && !(typed.Ti > 0) || !(typed.Td >= 0))
            throw new DesignException("gains", "A gain is missing or out of range.", "Times must be above zero.");
        var prepared = DocumentPreparation.Prepare(
            loop.Document,
            session.CatalogOf(loop.Document),
            loop.Prepared,
            DesignViews.Overrides(loop, typed)
        );
        return prepared.CanRun ? prepared : throw new DocumentException("With these gains the model has errors.");
    }

    /// <summary>Stretches in which the controller's output stays at a limit of its own.</summary>
    static List<StretchView> AtLimit(PreparedModel prepared, ParameterSet parameters, string part, Trace trace, int output)
    {
        double Value(string name) => prepared.Model.Find($"{part}.{name}") is { } v ? parameters.Values[v.Index] : double.NaN;
        var stretches = new List<StretchView>();
        if (!(Value("limited") > 0) || !trace.Has(output))
            return stretches;
        var (low, high) = (Value("uMin"), Value("uMax"));
        var (times, values) = (trace.Times, trace.Column(output));
        var since = double.NaN;
        for (var row = 0; row < trace.Rows; row++)
        {
            var at = values[row] >= high || values[row] <= low;
            if (at && double.IsNaN(since))
                since = times[row];
            if (at && row < trace.Rows - 1 || double.IsNaN(since))
                continue;
            if (times[row] > since)
                stretches.Add(new StretchView(since, times[row]));
            since = double.NaN;
        }

        return stretches;
    }
}
