using AnchorBend.Compiler.Emission;
using AnchorBend.Language.Terms;

namespace AnchorBend.Simulation.Stepping;

/// <summary>Watches for the instant at which one of several conditions comes to hold. It changes nothing in the model: they are
/// looked at on the interpolant of each step, at a few points and then by bisection.</summary>
sealed unsafe class PauseCondition(IReadOnlyList<Stop> stops, Motion motion)
{
    /// <summary>Points of a step at which the condition is looked at.</summary>
    const int Points = 8;

    /// <summary>Halvings that leave a double no room between two instants.</summary>
    const int Halvings = 60;

    readonly double[] scratch = new double[2 * motion.Model.StateCount + 2];
    TermEvaluator? evaluator;
    double* within;
    readonly double[] held = new double[stops.Count];
    readonly double[] now = new double[stops.Count];

    /// <summary>Whether one came to hold at the end of the last step.</summary>
    public bool Holds { get; private set; }

    /// <summary>The one that did last; null while none has.</summary>
    public Stop? Met { get; private set; }

    /// <summary>Looks at where the run is: what holds now has to be given up first.</summary>
    public void Begin()
    {
        motion.Evaluate(motion.Integrator.Time, EvaluationMode.Outputs);
        for (var s = 0; s < stops.Count; s++)
            held[s] = motion.ValueNow(stops[s].Term);
    }

    /// <summary>The first instant of the last step, up to a time, at which one holds that did not before; null for none.</summary>
    public double? Within(double end)
    {
        Holds = false;
        var start = motion.Integrator.StepStart;
        var before = start;
        for (var i = 1; i <= Points; i++)
        {
            var at = i == Points ? end : start + (end - start) * i / Points;
            LookAt(at);
            if (Rising() is not null)
            {
                var found = Bisect(before, at);
                LookAt(found);
                Met = Rising();
                now.CopyTo(held, 0);
                Holds = found >= end;
                return found;
            }

            now.CopyTo(held, 0);
            before = at;
        }

        return null;
    }

    /// <summary>Whether it came to hold by an event that has just been handled.</summary>
    public bool AfterEvent()
    {
        for (var s = 0; s < stops.Count; s++)
            now[s] = motion.ValueNow(stops[s].Term);
        var found = Rising();
        now.CopyTo(held, 0);
        Met = found ?? Met;
        return found is not null;
    }

    /// <summary>The first that is now what it was not before; null for none.</summary>
    Stop? Rising()
    {
        for (var s = 0; s < stops.Count; s++)
            if (stops[s].OnChange ? now[s] != held[s] : now[s] != 0 && held[s] == 0)
                return stops[s];
        return null;
    }

    double Bisect(double low, double high)
    {
        for (var i = 0; i < Halvings; i++)
        {
            var middle = low + (high - low) / 2;
            if (middle <= low || middle >= high)
                break;
            LookAt(middle);
            if (Rising() is not null)
                high = middle;
            else
                low = middle;
        }

        return high;
    }

    void LookAt(double time)
    {
        fixed (double* x = scratch)
        {
            motion.Integrator.Interpolate(time, x);
            motion.Model.FromLeft = true;
            motion.Model.Evaluate(time, x, x + motion.Model.StateCount, EvaluationMode.Outputs);
            within = x;
            evaluator ??= new TermEvaluator(i => motion.Model.Value(i, within, within + motion.Model.StateCount));
            for (var s = 0; s < stops.Count; s++)
                now[s] = evaluator.Evaluate(stops[s].Term);
        }
    }
}
