using AnchorBend.Compiler.Emission;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;

namespace AnchorBend.Simulation;

/// <summary>Finds where a number that is none was born: walks the plan and names the first operation with finite operands and no finite
/// result.</summary>
static unsafe class Diagnosis
{
    /// <returns>The failure, or null when every value is finite.</returns>
    public static SimulationFailure? FirstNotFinite(ModelInstance instance, double time, double* x)
    {
        var plan = instance.Compiled.Plan;
        var values = new double[plan.Model.Variables.Count];
        for (var i = 0; i < values.Length; i++)
            values[i] = instance.Memory[i];
        values[0] = time;
        for (var i = 0; i < plan.States.Length; i++)
        {
            values[plan.States[i]] = x[i];
            if (!double.IsFinite(x[i]))
                return Failure(
                    plan,
                    plan.States[i],
                    time,
                    $"the state is {Words(x[i])}",
                    "The model grows without limit or too fast; check signs in its loops."
                );
        }

        var evaluator = new TermEvaluator(
            i => values[i],
            i => plan.DiscreteSlot[i] >= 0 ? instance.Memory[instance.Compiled.Layout.PreviousBase + plan.DiscreteSlot[i]] : values[i],
            d => instance.Delayed(d, time)
        );
        foreach (var block in plan.Blocks)
        {
            var assignments = block is AssignmentBlock single ? [single] : ((LoopBlock)block).Inner;
            foreach (var assignment in assignments)
            {
                // What only events change is not computed again here: its value is the one in memory.
                var value =
                    block.Class == BlockClass.Event
                        ? values[assignment.Variable]
                        : values[assignment.Variable] = evaluator.Evaluate(assignment.Value);
                if (double.IsFinite(value))
                    continue;
                var (why, advice) = Reason(assignment.Value, evaluator, i => plan.Model.NameOf(i));
                return Failure(plan, assignment.Variable, time, why, advice);
            }
        }

        return null;
    }

    static SimulationFailure Failure(ExecutionPlan plan, int variable, double time, string why, string advice)
    {
        var v = plan.Model.Variables[variable];
        return new SimulationFailure("not-a-number", $"'{v.Name}' is no number at {time:G8} s: {why}.", v.Owner, v.Name, time, advice);
    }

    static (string Why, string Advice) Reason(Term term, TermEvaluator evaluator, Func<int, string> name)
    {
        foreach (var operand in term.Operands)
        {
            if (
                term is ConditionalTerm c
                && !ReferenceEquals(operand, c.Condition)
                && ReferenceEquals(operand, c.Then) != (evaluator.Evaluate(c.Condition) != 0)
            )
                continue;
            if (!double.IsFinite(evaluator.Evaluate(operand)))
                return Reason(operand, evaluator, name);
        }

        string Text(Term t) => $"{TermText.Print(t, name)} = {evaluator.Evaluate(t):G6}";
        return term switch
        {
            OperationTerm { Kind: Operator.Divide } o when evaluator.Evaluate(o.Right) == 0 => (
                $"a division by zero, {TermText.Print(o.Right, name)} is 0",
                "Keep the divisor away from zero with a limit or an offset."
            ),
            OperationTerm { Kind: Operator.SquareRoot } o => (
                $"the square root of a negative number, {Text(o.Left)}",
                "Limit the operand with max(0, …), or use sign(u)*sqrt(abs(u))."
            ),
            OperationTerm { Kind: Operator.Log or Operator.Log10 } o => (
                $"the logarithm of a number that is not positive, {Text(o.Left)}",
                "Limit the operand to positive values."
            ),
            OperationTerm { Kind: Operator.Asin or Operator.Acos } o => (
                $"an arc function outside −1 to 1, {Text(o.Left)}",
                "Limit the operand to −1 to 1."
            ),
            OperationTerm { Kind: Operator.Power } o => (
                $"a power without a real value, {Text(o.Left)} to {Text(o.Right)}",
                "A negative base needs a whole exponent."
            ),
            OperationTerm o => (
                $"{TermText.Print(o, name)} is too large for a number",
                "The model grows without limit; check signs in its loops."
            ),
            VariableTerm v => ($"'{name(v.Index)}' is {Words(evaluator.Evaluate(v))}", "Look at the part where it comes from."),
            _ => ("the operation has no value", "Check the operands."),
        };
    }

    static string Words(double value) => double.IsNaN(value) ? "no number" : "infinite";
}
