using AnchorBend.Compiler.Emission;
using AnchorBend.Simulation.Events;

namespace AnchorBend.Simulation;

/// <summary>Output points, rows of the trace, and the past of delayed signals.</summary>
public sealed unsafe partial class Simulator
{
    /// <summary>The next output point, by number and time; infinity when there is none left.</summary>
    long nextOutput;
    double nextOutputTime = double.PositiveInfinity;

    double OutputInterval => options.OutputInterval ?? (options.End - options.Start) / 2000;

    void PlanOutput(long number)
    {
        nextOutput = number;
        if (options.OutputTimes is { } times)
        {
            nextOutputTime = number < times.Count && times[(int)number] <= options.End ? times[(int)number] : double.PositiveInfinity;
            return;
        }

        var interval = OutputInterval;
        // The last point of the grid is the end of the run, met exactly.
        nextOutputTime = options.Start + number * interval;
        if (nextOutputTime > options.End - 1e-9 * interval)
            nextOutputTime = nextOutputTime < options.End + (1 - 1e-9) * interval ? options.End : double.PositiveInfinity;
    }

    void RecordOutputs(double upTo, bool end)
    {
        while (nextOutputTime <= upTo)
        {
            var next = nextOutputTime;
            if (next >= upTo && !end && upTo >= nextTimeEvent)
                return;
            if (end && trace.Rows > 0 && trace.Times[^1] >= options.End)
                return;
            fixed (double* x = scratch)
            {
                if (next < integrator.Time)
                    integrator.Interpolate(next, x);
                Record(next, next >= integrator.Time ? integrator.State : x, x + model.StateCount);
            }

            PlanOutput(nextOutput + 1);
            // One step may hold any number of output points.
            if ((trace.Rows & RowsBetweenLooks - 1) == 0)
                Watch(runCancellation, runProgress);
        }
    }

    /// <summary>Rows after which budgets are looked at; a power of two.</summary>
    const int RowsBetweenLooks = 1 << 12;

    void Record(double time) => Record(time, model.States, model.StateDerivatives);

    void Record(double time, double* x, double* dx)
    {
        if (!recordsStatesOnly)
            model.Evaluate(time, x, dx, EvaluationMode.Outputs);
        Fill(time, x, dx);
    }

    /// <summary>A row of the values as they are.</summary>
    void Fill(double time, double* x, double* dx)
    {
        var row = trace.NewRow(time);
        if (recordsStatesOnly && row.Length == 1)
        {
            // States were found finite by the integrator.
            row[0] = x[recordPlaces[0].Index];
            return;
        }

        var memory = model.Memory;
        var sum = 0.0;
        for (var i = 0; i < row.Length; i++)
        {
            var (source, index) = recordPlaces[i];
            var value =
                source == 0 ? x[index]
                : source == 1 ? dx[index]
                : memory[index];
            row[i] = value;
            sum += Math.Abs(value) * 1e-200;
        }

        if (!double.IsFinite(sum) && Diagnosis.FirstNotFinite(model, time, x) is { } failure)
            throw new SimulationException(failure);
    }

    /// <summary>Where each recorded value lies: 0 among the states, 1 among the derivatives, 2 in memory.</summary>
    (int Source, int Index)[] RecordPlaces() =>
        [
            .. trace.Variables.Select(v =>
            {
                var place = plan.Representative[v];
                return plan.StateSlot[place] >= 0 ? (0, plan.StateSlot[place])
                    : plan.DerivativeSlot[place] >= 0 ? (1, plan.DerivativeSlot[place])
                    : (2, place);
            }),
        ];

    /// <summary>Stretches of a long step that the past keeps apart, as its polynomials are of order 5.</summary>
    const int LongStretches = 4;

    void AppendDelays(double upTo)
    {
        if (model.Delays.Length == 0)
            return;
        var parts = integrator.IsLongStepping ? LongStretches : 1;
        double begin = integrator.StepStart,
            length = upTo - begin;
        for (var part = 0; part < parts; part++)
            AppendDelays(begin + part * length / parts, part == parts - 1 ? upTo : begin + (part + 1) * length / parts, 0);
    }

    /// <summary>How often a stretch of the past is halved, and what part of the tolerance it may err.</summary>
    const int MostHalvings = 16;
    const double PastShare = 0.1;

    /// <summary>
    /// Where a polynomial through five equidistant points errs most, on either side; not at any even part of the stretch, where a wave
    /// could look like a constant.
    /// </summary>
    static readonly double[] PastChecks = [0.3557, 3.6011];

    /// <summary>Keeps a stretch of the past, in halves where one polynomial would not follow a signal that no error estimate has
    /// seen.</summary>
    void AppendDelays(double start, double end, int halvings)
    {
        for (var p = 0; p < 5; p++)
        {
            SourcesAt(p == 4 ? end : start + p * (end - start) / 4, p == 4);
            for (var d = 0; d < model.Delays.Length; d++)
                delayPoints[5 * d + p] = delaySources[d];
        }

        if (!delaysStatesOnly && halvings < MostHalvings && !IsFollowed(start, end))
        {
            var middle = start + (end - start) / 2;
            AppendDelays(start, middle, halvings + 1);
            AppendDelays(middle, end, halvings + 1);
            return;
        }

        for (var d = 0; d < model.Delays.Length; d++)
            model.Delays[d].Append(start, end, delayPoints.AsSpan(5 * d, 5));
    }

    bool IsFollowed(double start, double end)
    {
        foreach (var s in PastChecks)
        {
            SourcesAt(start + s * (end - start) / 4, false);
            for (var d = 0; d < model.Delays.Length; d++)
            {
                var value = delaySources[d];
                var allowed = PastShare * (options.AbsoluteTolerance + options.RelativeTolerance * Math.Abs(value));
                if (Math.Abs(DelayHistory.Kept(delayPoints.AsSpan(5 * d, 5), s) - value) > allowed)
                    return false;
            }
        }

        return true;
    }

    /// <summary>The sources of all delays at a time within the last step or at its end.</summary>
    void SourcesAt(double time, bool mayBeEnd)
    {
        fixed (double* x = scratch)
        {
            if (mayBeEnd && time >= integrator.Time)
                new ReadOnlySpan<double>(integrator.State, model.StateCount).CopyTo(scratch);
            else
                integrator.Interpolate(time, x);
            model.FromLeft = time > integrator.StepStart;
            if (!delaysStatesOnly)
                model.Evaluate(time, x, x + model.StateCount, EvaluationMode.Outputs);
            for (var d = 0; d < delaySources.Length; d++)
                delaySources[d] = model.Value(plan.Model.Delays[d].Source, x, x + model.StateCount);
        }
    }
}
