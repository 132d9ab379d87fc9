using AnchorBend.Compiler.Emission;
using AnchorBend.Language.Terms;

namespace AnchorBend.Simulation.Stepping;

/// <summary>Watches for the instant at which a condition comes to hold. It changes nothing in the model: it is looked at on the
/// interpolant of each step, at a few points and then by bisection.</summary>
sealed unsafe class PauseCondition(Term condition, Motion motion)
{
    /// <summary>Points of a step at which the condition is looked at.</summary>
    const int Points = 8;

    /// <summary>Halvings that leave a double no room between two instants.</summary>
    const int Halvings = 60;

    readonly double[] scratch = new double[2 * motion.Model.StateCount + 2];
    TermEvaluator? evaluator;
    double* within;
    bool held;

    /// <summary>Whether the condition came to hold at the end of the last step.</summary>
    public bool Holds { get; private set; }

    /// <summary>Looks at where the run is: what holds now has to be given up first.</summary>
    public void Begin()
    {
        motion.Evaluate(motion.Integrator.Time, EvaluationMode.Outputs);
        held = motion.ValueNow(condition) != 0;
    }

    /// <summary>The first instant of the last step, up to a time, at which the condition holds while it did not before; null for
    /// none.</summary>
    public double? Within(double end)
    {
        Holds = false;
        var start = motion.Integrator.StepStart;
        var before = start;
        for (var i = 1; i <= Points; i++)
        {
            var at = i == Points ? end : start + (end - start) * i / Points;
            var holds = HoldsAt(at);
            if (holds && !held)
            {
                held = true;
                var found = Bisect(before, at);
                Holds = found >= end;
                return found;
            }

            (held, before) = (holds, at);
        }

        return null;
    }

    /// <summary>Whether it came to hold by an event that has just been handled.</summary>
    public bool AfterEvent()
    {
        var before = held;
        held = motion.ValueNow(condition) != 0;
        return held && !before;
    }

    double Bisect(double low, double high)
    {
        for (var i = 0; i < Halvings; i++)
        {
            var middle = low + (high - low) / 2;
            if (middle <= low || middle >= high)
                break;
            if (HoldsAt(middle))
                high = middle;
            else
                low = middle;
        }

        return high;
    }

    bool HoldsAt(double time)
    {
        fixed (double* x = scratch)
        {
            motion.Integrator.Interpolate(time, x);
            motion.Model.FromLeft = true;
            motion.Model.Evaluate(time, x, x + motion.Model.StateCount, EvaluationMode.Outputs);
            within = x;
            evaluator ??= new TermEvaluator(i => motion.Model.Value(i, within, within + motion.Model.StateCount));
            return evaluator.Evaluate(condition) != 0;
        }
    }
}
