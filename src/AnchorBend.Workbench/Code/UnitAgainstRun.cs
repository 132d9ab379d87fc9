using AnchorBend.Compiler.Preparation;
using AnchorBend.Delivery;
using AnchorBend.Language;
using AnchorBend.Modeling.Documents;
using AnchorBend.Simulation;
using AnchorBend.Simulation.Recording;
using AnchorBend.Workbench.Alternatives;

namespace AnchorBend.Workbench.Code;

/// <param name="Output">The one that is furthest from the run.</param>
/// <param name="Part">How far, as part of the range that the run has; null where the unit gives no number.</param>
/// <param name="Time">When, s.</param>
/// <param name="End">Until when both were looked at, s.</param>
/// <param name="IsWhole">Whether that is all of the run.</param>
public sealed record RunDistance(string Output, double? Part, double Time, double End, bool IsWhole)
{
    /// <summary>Less than a two-hundredth of the range is not seen in a plot; a twentieth is another course.</summary>
    const double Near = 0.005,
        Far = 0.05;

    public Nearness Nearness =>
        Part is not { } part || part >= Far ? Nearness.Far
        : part >= Near ? Nearness.Apart
        : Nearness.Near;
}

public enum Nearness
{
    Near,
    Apart,
    Far,
}

/// <summary>
/// How far a whole model in steps is from its run, which locates events and follows its error estimate: a step that is too long for a
/// stiff plant shows here.
/// </summary>
static class UnitAgainstRun
{
    const int MostSteps = 200_000;

    const long MostTrace = 256L << 20;

    /// <returns>Null where the run itself fails, or records no output.</returns>
    public static RunDistance? Of(CodeUnit unit, PreparedModel whole, ModelDocument document, CancellationToken wanted)
    {
        var parameters = new ParameterSet(whole.Model);
        var step = unit.Request.Step;
        var options = DocumentRun.OptionsOf(document);
        var end = Math.Min(options.End, MostSteps * step);
        using var session = new RunSession(whole, parameters, options with { End = end, TraceBudget = MostTrace });
        session.Advance(new PauseAt(), wanted, null);
        using var trace = session.Result().Trace;
        if (session.Failure is not null)
            return null;
        double[] times = [.. trace.Times];
        var outputs = unit.Outputs.Where(o => RecordedSignal.Has(whole, trace, o.Variable)).ToList();
        if (outputs.Count == 0)
            return null;
        var runs = outputs.ConvertAll(o => RecordedSignal.Values(whole, parameters.Values, trace, o.Variable));
        var ranges = runs.ConvertAll(RangeOf);
        var places = outputs.ConvertAll(o => o.Variable.Index).ToArray();
        var made = new double[places.Length];
        using var grid = unit.Reference();
        var isWhole = end >= options.End;
        var worst = new RunDistance(outputs[0].Name, 0, 0, end, isWhole);
        var (first, last) = (0, 0);
        for (var n = 0; n * step <= end; n++)
        {
            if (n % 1000 == 0)
            {
                wanted.ThrowIfCancellationRequested();
                WorkBudget.Current.Check();
            }

            grid.Step([], [], places, made);
            // An event falls anywhere within a step, so what the run comes by from one step before to one after is as good.
            var time = n * step;
            while (first + 1 < times.Length && times[first + 1] <= time - step)
                first++;
            while (last + 1 < times.Length && times[last] < time + step)
                last++;
            for (var i = 0; i < places.Length; i++)
            {
                var (low, high) = (double.PositiveInfinity, double.NegativeInfinity);
                for (var row = first; row <= last; row++)
                    (low, high) = (Math.Min(low, runs[i][row]), Math.Max(high, runs[i][row]));
                var part = Math.Max(0, Math.Max(low - made[i], made[i] - high)) / ranges[i];
                if (!double.IsFinite(part))
                    return new RunDistance(outputs[i].Name, null, time, end, isWhole);
                if (part > worst.Part)
                    worst = new RunDistance(outputs[i].Name, part, time, end, isWhole);
            }
        }

        return worst;
    }

    /// <summary>What differences are parts of: the range of a signal, rounding where it rests, or one where it is nought.</summary>
    static double RangeOf(double[] values)
    {
        var (low, high) = (values.Min(), values.Max());
        var range = Math.Max(high - low, 1e-9 * Math.Max(Math.Abs(high), Math.Abs(low)));
        return range > 0 ? range : 1;
    }
}
