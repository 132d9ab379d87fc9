using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Analysis;

/// <summary>
/// The shortest period among sines and cosines of time in a model. Signals that follow from time alone are in no state's error, so where
/// they are watched the steps must be short enough to see their waves.
/// </summary>
static class HighestForcingFrequency
{
    /// <returns>Seconds; infinity where there is no wave.</returns>
    public static double Period(ExecutionPlan plan, double[] parameters, double start, double end)
    {
        var fastest = 0.0;
        foreach (var term in plan.Blocks.SelectMany(b => b.Terms))
            Walk(term);
        return fastest > 0 ? 2 * Math.PI / fastest : double.PositiveInfinity;

        void Walk(Term term)
        {
            if (
                term is OperationTerm { Kind: Operator.Sin or Operator.Cos } wave
                && TermDerivative.Partial(wave.Left, FlatModel.TimeIndex) is var rate
                && Dependence.OnParameters(rate, plan.Model, Allowed.Time | Allowed.Relations)
            )
                foreach (var time in (ReadOnlySpan<double>)[start, end])
                    if (
                        Math.Abs(new TermEvaluator(i => i == FlatModel.TimeIndex ? time : parameters[i]).Evaluate(rate)) is var speed
                        && double.IsFinite(speed)
                    )
                        fastest = Math.Max(fastest, speed);
            foreach (var operand in term.Operands)
                Walk(operand);
        }
    }
}
