using AnchorBend.Compiler.Emission;

namespace AnchorBend.Simulation;

/// <summary>Output points, rows of the trace, and the past of delayed signals.</summary>
public sealed unsafe partial class Simulator
{
    void RecordOutputs(double upTo, bool end)
    {
        while (true)
        {
            double next;
            if (options.OutputTimes is { } times)
            {
                if (nextOutput >= times.Count) return;
                next = times[(int)nextOutput];
            }
            else
            {
                var interval = options.OutputInterval ?? (options.End - options.Start) / 2000;
                next = options.Start + nextOutput * interval;
                if (next > options.End - 1e-9 * interval) next = options.End;
            }

            if (next > upTo || next > options.End || (next >= upTo && !end && upTo >= nextTimeEvent)) return;
            if (end && trace.Rows > 0 && trace.Times[^1] >= options.End) return;
            fixed (double* x = scratch)
            {
                if (next < integrator.Time) integrator.Interpolate(next, x);
                Record(next, next >= integrator.Time ? integrator.State : x, x + model.StateCount);
            }

            nextOutput++;
            if (next >= options.End) return;
        }
    }

    void Record(double time) => Record(time, model.States, model.StateDerivatives);

    void Record(double time, double* x, double* dx)
    {
        if (!recordsStatesOnly) model.Evaluate(time, x, dx, EvaluationMode.Outputs);
        Fill(time, x, dx);
    }

    /// <summary>A row of the values as they are.</summary>
    void Fill(double time, double* x, double* dx)
    {
        var row = trace.NewRow(time);
        var memory = model.Memory;
        var sum = 0.0;
        for (var i = 0; i < row.Length; i++)
        {
            var (source, index) = recordPlaces[i];
            var value = source == 0 ? x[index] : source == 1 ? dx[index] : memory[index];
            row[i] = value;
            sum += Math.Abs(value) * 1e-200;
        }

        if (!double.IsFinite(sum) && Diagnosis.FirstNotFinite(model, time, x) is { } failure) throw new SimulationException(failure);
    }

    /// <summary>Where each recorded value lies: 0 among the states, 1 among the derivatives, 2 in memory.</summary>
    (int Source, int Index)[] RecordPlaces() => [.. trace.Variables.Select(v =>
    {
        var place = plan.Representative[v];
        return plan.StateSlot[place] >= 0 ? (0, plan.StateSlot[place]) : plan.DerivativeSlot[place] >= 0 ? (1, plan.DerivativeSlot[place]) : (2, place);
    })];

    /// <summary>Stretches of a long step that the past keeps apart, as its polynomials are of order 5.</summary>
    const int LongStretches = 4;

    void AppendDelays(double upTo)
    {
        if (model.Delays.Length == 0) return;
        var parts = integrator.IsLongStepping ? LongStretches : 1;
        double begin = integrator.StepStart, length = upTo - begin;
        for (var part = 0; part < parts; part++) AppendDelays(begin + part * length / parts, part == parts - 1 ? upTo : begin + (part + 1) * length / parts);
    }

    void AppendDelays(double start, double end)
    {
        var values = delayPoints;
        fixed (double* x = scratch)
            for (var p = 0; p < 5; p++)
            {
                var time = p == 4 ? end : start + p * (end - start) / 4;
                if (p == 4 && end >= integrator.Time) new ReadOnlySpan<double>(integrator.State, model.StateCount).CopyTo(scratch);
                else integrator.Interpolate(time, x);
                model.FromLeft = time > integrator.StepStart;
                if (!delaysStatesOnly) model.Evaluate(time, x, x + model.StateCount, EvaluationMode.Outputs);
                for (var d = 0; d < model.Delays.Length; d++) values[5 * d + p] = model.Value(plan.Model.Delays[d].Source, x, x + model.StateCount);
            }

        for (var d = 0; d < model.Delays.Length; d++) model.Delays[d].Append(start, end, values.AsSpan(5 * d, 5));
    }
}
