using AnchorBend.Language.Terms;
using static AnchorBend.Language.Terms.TermBuilder;

namespace AnchorBend.Compiler.Planning;

/// <summary>Solves an equation for one variable in closed form where it is linear in it.</summary>
public static class TermSolver
{
    /// <summary>The variable's value, or null where it enters nonlinearly or its factor is zero.</summary>
    public static Term? Solve(Term left, Term right, int variable)
    {
        if (left is VariableTerm l && l.Index == variable && !Contains(right, variable))
            return right;
        if (right is VariableTerm r && r.Index == variable && !Contains(left, variable))
            return left;
        if (Isolate(left, right, variable) is { } isolated)
            return isolated;
        var residual = Subtract(left, right);
        if (InCondition(residual, variable))
            return null;
        var factor = TermDerivative.Partial(residual, variable);
        if (factor.IsConstant(0) || Contains(factor, variable))
            return null;
        var rest = Rewrite(residual, leaf => leaf is VariableTerm v && v.Index == variable ? Term.Zero : leaf);
        return Negate(Divide(rest, factor));
    }

    /// <summary>The same, but null also where the variable's factor is not safe to divide by.</summary>
    public static Term? Solve(Term left, Term right, int variable, Func<Term, bool> isSafe)
    {
        var residual = Subtract(left, right);
        if (InCondition(residual, variable))
            return null;
        var factor = TermDerivative.Partial(residual, variable);
        return Contains(factor, variable) || !isSafe(factor) ? null : Solve(left, right, variable);
    }

    /// <summary>Visits the variables that a term may be solved for: those outside relations and conditions.</summary>
    public static void VisitSolvable(Term term, Action<int> visit)
    {
        switch (term)
        {
            case VariableTerm v:
                visit(v.Index);
                return;
            case RelationTerm:
                return;
            case ConditionalTerm c:
                VisitSolvable(c.Then, visit);
                VisitSolvable(c.Otherwise, visit);
                return;
        }

        foreach (var operand in term.Operands)
            VisitSolvable(operand, visit);
    }

    public static bool Contains(Term term, int variable)
    {
        if (term is VariableTerm v)
            return v.Index == variable;
        foreach (var operand in term.Operands)
            if (Contains(operand, variable))
                return true;
        return false;
    }

    /// <summary>Whether the variable decides a condition, so that the derivative does not tell the whole dependence.</summary>
    static bool InCondition(Term term, int variable) =>
        Any(term, t =>
            t is RelationTerm && Contains(t, variable)
            || t is ConditionalTerm c && Contains(c.Condition, variable)
            || t
                is OperationTerm
                {
                    Kind: >= Operator.Less
                        and <= Operator.Or
                        or Operator.Floor
                        or Operator.Ceiling
                        or Operator.Sign
                        or Operator.Not
                        or Operator.IntegerDivide
                }
                && Contains(t, variable)
        );

    /// <summary>Moves operations from the side that holds the variable to the other, which keeps the equation's own shape.</summary>
    static Term? Isolate(Term left, Term right, int variable)
    {
        var inLeft = Contains(left, variable);
        if (inLeft == Contains(right, variable))
            return null;
        var (side, other) = inLeft ? (left, right) : (right, left);
        while (true)
        {
            if (side is VariableTerm)
                return other;
            if (side is not OperationTerm o)
                return null;
            if (o.Kind == Operator.Negate)
            {
                (side, other) = (o.Left, Negate(other));
                continue;
            }

            if (o.Operands.Length != 2)
                return null;
            var first = Contains(o.Left, variable);
            if (first && Contains(o.Right, variable))
                return null;
            switch (o.Kind)
            {
                case Operator.Add:
                    (side, other) = first ? (o.Left, Subtract(other, o.Right)) : (o.Right, Subtract(other, o.Left));
                    break;
                case Operator.Subtract:
                    (side, other) = first ? (o.Left, Add(other, o.Right)) : (o.Right, Subtract(o.Left, other));
                    break;
                case Operator.Multiply:
                    var factor = first ? o.Right : o.Left;
                    if (factor.IsConstant(0))
                        return null;
                    (side, other) = (first ? o.Left : o.Right, Divide(other, factor));
                    break;
                case Operator.Divide when first:
                    (side, other) = (o.Left, Multiply(other, o.Right));
                    break;
                default:
                    return null;
            }
        }
    }
}
