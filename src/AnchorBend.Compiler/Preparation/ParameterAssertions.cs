using AnchorBend.Language.Terms;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Preparation;

/// <summary>What parts demand of their parameters, such as that tubes fit into their shell: known without a run.</summary>
static class ParameterAssertions
{
    /// <summary>Demands that the present values do not meet, as findings.</summary>
    public static IEnumerable<Finding> Missed(FlatModel model, SourceMap map)
    {
        double[]? values = null;
        foreach (var assertion in model.Assertions)
        {
            if (!IsOfParameters(model, assertion.Condition))
                continue;
            values ??= model.ParameterValues();
            if (!Holds(assertion.Condition, values))
                yield return new Finding(
                    assertion.IsError ? Severity.Error : Severity.Warning,
                    "assertion",
                    assertion.Message,
                    assertion.Owner,
                    null,
                    assertion.At
                )
                {
                    Place = map.Around(assertion.Owner)?.Path,
                };
        }
    }

    /// <summary>Whether the same demands are met with other values.</summary>
    public static bool AreAsBefore(FlatModel model, double[] before, double[] after) =>
        model.Assertions.Where(a => IsOfParameters(model, a.Condition)).All(a => Holds(a.Condition, before) == Holds(a.Condition, after));

    static bool Holds(Term condition, double[] values) => new TermEvaluator(i => values[i]).Evaluate(condition) != 0;

    static bool IsOfParameters(FlatModel model, Term term)
    {
        switch (term)
        {
            case ConstantTerm:
                return true;
            case VariableTerm v:
                return v.Index > FlatModel.InitialFlagIndex && model.Variables[v.Index].Role == VariableRole.Parameter;
            case PreviousTerm or DelayTerm or SlotTerm or OperandTerm:
                return false;
        }

        foreach (var operand in term.Operands)
            if (!IsOfParameters(model, operand))
                return false;
        return true;
    }
}
