using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Planning;
using AnchorBend.Simulation.Stepping;
using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Simulation.Events;

/// <summary>New values that events give to states, also to those that follow from others in the present choice of states.</summary>
sealed unsafe class StateReinits(Motion motion)
{
    /// <summary>Iterations to a value that is no state's: speeds depend on each other by factors, so one is mostly enough.</summary>
    const int MostIterations = 20;

    /// <summary>How far a state is shifted to see what follows from it.</summary>
    const double Shift = 1e-6;

    readonly ExecutionPlan plan = motion.Plan;
    readonly ModelInstance model = motion.Model;

    readonly List<(int Variable, double Value)> news = [];

    /// <returns>Whether any state got a new value.</returns>
    public bool Apply(double time)
    {
        if (plan.Reinits.Count == 0)
            return false;
        news.Clear();
        foreach (var reinit in plan.Reinits)
            if (motion.ValueNow(reinit.Condition) != 0)
                news.Add((reinit.State, motion.ValueNow(reinit.Value)));
        if (news.Count == 0)
            return false;
        // All are computed from what was before.
        foreach (var (variable, value) in news)
            if (plan.StateSlot[variable] >= 0)
                model.States[plan.StateSlot[variable]] = value;
        if (news.Exists(n => plan.StateSlot[n.Variable] < 0))
            Solve(time);
        return true;
    }

    /// <summary>
    /// Gives algebraic variables of a reduced model new values: the states that they follow from by the constraints change as little as
    /// possible (Newton's method with least steps). What has no constraint in common with them stays.
    /// </summary>
    void Solve(double time)
    {
        var redundantConditions = news.Where(n => plan.StateSlot[n.Variable] < 0).ToArray();
        var given = news.Select(n => n.Variable).ToHashSet();
        int[] free = plan.Reduced is not { } reduced
            ? []
            :
            [
                .. redundantConditions
                    .SelectMany(f => reduced.Model.Choices.SelectMany(c => c.StatesBeside(f.Variable, reduced.Dummies)))
                    .Where(s => plan.StateSlot[s] >= 0 && !given.Contains(s))
                    .Distinct()
                    .Select(s => plan.StateSlot[s]),
            ];
        Vector<double> Gaps()
        {
            motion.Evaluate(time, EvaluationMode.Outputs);
            return Vector<double>.Build.Dense(redundantConditions.Length, i =>
                model.Value(redundantConditions[i].Variable) - redundantConditions[i].Value
            );
        }

        double Missed(Vector<double> gaps, int follower) => Math.Abs(gaps[follower]) / (1 + Math.Abs(redundantConditions[follower].Value));
        var gaps = Gaps();
        for (var iteration = 0; iteration < MostIterations && free.Length > 0; iteration++)
        {
            if (Enumerable.Range(0, redundantConditions.Length).All(i => Missed(gaps, i) <= 1e-12))
                return;
            var slopes = Matrix<double>.Build.Dense(redundantConditions.Length, free.Length);
            for (var c = 0; c < free.Length; c++)
            {
                var before = model.States[free[c]];
                var shift = Shift * (1 + Math.Abs(before));
                model.States[free[c]] = before + shift;
                slopes.SetColumn(c, (Gaps() - gaps) / shift);
                model.States[free[c]] = before;
            }

            var step = slopes.PseudoInverse() * gaps;
            for (var c = 0; c < free.Length; c++)
                model.States[free[c]] -= step[c];
            gaps = Gaps();
        }

        var least = Enumerable.Range(0, redundantConditions.Length).MaxBy(i => Missed(gaps, i));
        if (Missed(gaps, least) <= 1e-8)
            return;
        var (worst, wanted) = redundantConditions[least];
        var variable = plan.Model.Variables[worst];
        throw new SimulationException(
            new SimulationFailure(
                "reinit",
                $"'{variable.Name}' cannot take the value {wanted:G6} at {time:G8} s: the constraints of the model do not let it.",
                variable.Owner,
                variable.Name,
                time,
                "Set the variable that the constraints leave free, or check the new value."
            )
        );
    }
}
