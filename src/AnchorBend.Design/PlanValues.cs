using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Design;

/// <summary>
/// Values of all variables that a plan computes with, at a point that knows those of the model: differentiated constraints (Pantelides)
/// bring derivatives of their own, which follow from the rest.
/// </summary>
static class PlanValues
{
    const int MostIterations = 20;

    /// <summary>The plan with the choice of states that suits the point, and the values by index of its model.</summary>
    public static (ExecutionPlan Plan, double[] Values) At(ExecutionPlan plan, PreparedModel prepared, OperatingPoint point)
    {
        var values = Of(plan, prepared, point);
        if (
            plan.Reduced is { } reduced
            && reduced.Model.Choose(Evaluator(plan, values).Evaluate) is { } chosen
            && !chosen.AsSpan().SequenceEqual(reduced.Dummies)
            && reduced.Model.PlanFor(chosen) is { } other
        )
            return (other, Of(other, prepared, point));
        return (plan, values);
    }

    static double[] Of(ExecutionPlan plan, PreparedModel prepared, OperatingPoint point)
    {
        var values = new double[plan.Model.Variables.Count];
        point.Values.CopyTo(values, 0);
        var known = prepared.Model.Variables.Count;
        foreach (var variable in plan.Model.Variables.Skip(known))
            values[variable.Index] = LoopOpening.ValueOf(variable, prepared.Model, point.Values);
        var evaluator = Evaluator(plan, values);
        foreach (var block in plan.Blocks)
        {
            int[] missing = [.. block.Determines.Where(v => v >= known)];
            if (missing.Length == 0)
                continue;
            if (block is AssignmentBlock a)
                values[a.Variable] = evaluator.Evaluate(a.Value);
            else if (block is LoopBlock loop)
                Solve(loop, missing, values, evaluator);
        }

        return values;
    }

    static TermEvaluator Evaluator(ExecutionPlan plan, double[] values) =>
        new(i => values[i], null, d => values[plan.Model.Delays[d].Source]);

    /// <summary>Gauss and Newton's method for the unknowns of a loop that the point does not know; the others are at their
    /// values.</summary>
    static void Solve(LoopBlock loop, int[] missing, double[] values, TermEvaluator evaluator)
    {
        Term[] sides = [.. loop.Inner.Select(i => TermBuilder.Subtract(new VariableTerm(i.Variable), i.Value)), .. loop.Residuals];
        var slopes = sides
            .Select(side =>
                missing
                    .Select(m => TermDerivative.Of(side, leaf => leaf is VariableTerm v && v.Index == m ? Term.One : Term.Zero))
                    .ToArray()
            )
            .ToArray();
        for (var iteration = 0; iteration < MostIterations; iteration++)
        {
            WorkBudget.Current.Check();
            var matrix = Matrix<double>.Build.Dense(sides.Length, missing.Length, (i, j) => evaluator.Evaluate(slopes[i][j]));
            var gap = Vector<double>.Build.Dense(sides.Length, i => evaluator.Evaluate(sides[i]));
            if (matrix.Enumerate().Concat(gap).Any(v => !double.IsFinite(v)))
                break;
            var step = matrix.PseudoInverse() * gap;
            for (var i = 0; i < missing.Length; i++)
                values[missing[i]] -= step[i];
            if (step.L2Norm() <= 1e-12 * (1 + missing.Sum(m => Math.Abs(values[m]))))
                return;
        }

        // What is not known must not pass for a number: slopes that need it are told to be none.
        foreach (var m in missing)
            values[m] = double.NaN;
    }
}
