using AnchorBend.Compiler.Emission;
using AnchorBend.Simulation.Stepping;

namespace AnchorBend.Simulation.Recording;

/// <summary>Output points and rows of the trace.</summary>
sealed unsafe class OutputRecorder(RunOptions options, Trace trace, RunWatch watch)
{
    Motion motion = null!;

    /// <summary>The next output point, by number and time; infinity when there is none left.</summary>
    long nextOutput;

    double nextOutputTime = double.PositiveInfinity;
    (int Source, int Index)[] recordPlaces = [];
    bool recordsStatesOnly;

    public double Next => nextOutputTime;

    /// <summary>The run goes on with another plan.</summary>
    public void Follow(Motion next)
    {
        motion = next;
        recordPlaces = RecordPlaces();
        recordsStatesOnly = recordPlaces.All(p => p.Source == 0);
    }

    double OutputInterval => options.OutputInterval ?? (options.End - options.Start) / 2000;

    public void PlanAfter(double time)
    {
        if (options.OutputTimes is { } times)
        {
            var number = 0;
            while (number < times.Count && times[number] <= time)
                number++;
            PlanOutput(number);
            return;
        }

        PlanOutput((long)Math.Floor((time - options.Start) / OutputInterval + 1e-9) + 1);
    }

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

    /// <summary>Rows for the output points up to a time within the last step or at its end.</summary>
    /// <param name="end">Whether the run ends there.</param>
    /// <param name="nextEvent">An output point at the next time event waits for it.</param>
    public void RecordUpTo(double upTo, bool end, double nextEvent)
    {
        while (nextOutputTime <= upTo)
        {
            var next = nextOutputTime;
            if (next >= upTo && !end && upTo >= nextEvent)
                return;
            if (end && trace.LastTime >= options.End)
                return;
            fixed (double* x = motion.Scratch)
            {
                if (next < motion.Integrator.Time)
                    motion.Integrator.Interpolate(next, x);
                Record(next, next >= motion.Integrator.Time ? motion.Integrator.State : x, x + motion.Model.StateCount);
            }

            PlanOutput(nextOutput + 1);
            // One step may hold any number of output points.
            if ((trace.Begun & RowsBetweenLooks - 1) == 0)
                watch.Look();
        }
    }

    /// <summary>Rows after which budgets are looked at; a power of two.</summary>
    const int RowsBetweenLooks = 1 << 12;

    /// <summary>A row of the present state.</summary>
    public void Record(double time) => Record(time, motion.Model.States, motion.Model.StateDerivatives);

    void Record(double time, double* x, double* dx)
    {
        if (!recordsStatesOnly)
            motion.Model.Evaluate(time, x, dx, EvaluationMode.Outputs);
        Fill(time, x, dx);
    }

    /// <summary>The right side of an event; an output point that meets it is this row.</summary>
    public void RecordAfterEvent(double time)
    {
        var isOutput = nextOutputTime <= time;
        if (isOutput || options.RecordEvents)
            Record(time);
        if (isOutput)
            PlanOutput(nextOutput + 1);
    }

    /// <summary>A row of the present values as they are.</summary>
    public void Fill(double time) => Fill(time, motion.Model.States, motion.Model.StateDerivatives);

    void Fill(double time, double* x, double* dx)
    {
        var row = trace.NewRow(time);
        if (recordsStatesOnly && row.Length == 1)
        {
            // States were found finite by the motion.Integrator.
            row[0] = x[recordPlaces[0].Index];
            return;
        }

        var memory = motion.Model.Memory;
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

        if (!double.IsFinite(sum) && Diagnosis.FirstNotFinite(motion.Model, time, x) is { } failure)
            throw new SimulationException(failure);
    }

    /// <summary>Where each recorded value lies: 0 among the states, 1 among the derivatives, 2 in memory.</summary>
    (int Source, int Index)[] RecordPlaces() =>
        [
            .. trace.Variables.Select(v =>
            {
                var place = motion.Plan.Representative[v];
                return motion.Plan.StateSlot[place] >= 0 ? (0, motion.Plan.StateSlot[place])
                    : motion.Plan.DerivativeSlot[place] >= 0 ? (1, motion.Plan.DerivativeSlot[place])
                    : (2, place);
            }),
        ];
}
