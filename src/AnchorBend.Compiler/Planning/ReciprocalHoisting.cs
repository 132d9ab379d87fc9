using AnchorBend.Compiler.Analysis;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>
/// A division by a term of parameters becomes a product with its reciprocal, which is computed once a run: a division costs several
/// products. Divisions by plain numbers stay, as written.
/// </summary>
static class ReciprocalHoisting
{
    public static Term Rewrite(Term term, FlatModel model)
    {
        if (term is not OperationTerm o)
            return term;
        if (o.Operands.Length == 1)
        {
            var operand = Rewrite(o.Left, model);
            return ReferenceEquals(operand, o.Left) ? o : new OperationTerm(o.Kind, operand);
        }

        Term left = Rewrite(o.Left, model),
            right = Rewrite(o.Right, model);
        if (
            o.Kind == Operator.Divide
            && right is not ConstantTerm
            && Dependence.OnParameters(right, model)
            && !Dependence.OnParameters(left, model)
        )
            return new OperationTerm(Operator.Multiply, left, new OperationTerm(Operator.Divide, Term.One, right));
        return ReferenceEquals(left, o.Left) && ReferenceEquals(right, o.Right)
            ? o
            : new OperationTerm(o.Kind, left, right) { Origin = o.Origin };
    }
}
