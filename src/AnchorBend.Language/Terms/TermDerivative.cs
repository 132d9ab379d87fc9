using static AnchorBend.Language.Terms.TermBuilder;

namespace AnchorBend.Language.Terms;

/// <summary>Symbolic derivatives. Relations, floor and their like have derivative zero; conditions choose between derivatives.</summary>
public static class TermDerivative
{
    /// <summary>The partial derivative with respect to one variable.</summary>
    public static Term Partial(Term term, int variable) =>
        Of(term, leaf => leaf is VariableTerm v && v.Index == variable ? Term.One : Term.Zero);

    /// <summary>
    /// The derivative along a direction: the chain rule with <paramref name="seed"/> as the derivative of each leaf
    /// (variable, pre or delay).
    /// </summary>
    public static Term Of(Term term, Func<Term, Term> seed) => Of(term, seed, null);

    /// <param name="isConstant">Which subterms need no look, as nothing in them has a derivative.</param>
    internal static Term Of(Term term, Func<Term, Term> seed, Func<Term, bool>? isConstant)
    {
        if (isConstant is not null && isConstant(term))
            return Term.Zero;
        switch (term)
        {
            case ConstantTerm or RelationTerm or SlotTerm or SequenceTerm or SequenceResultTerm:
                return Term.Zero;
            case VariableTerm or PreviousTerm or DelayTerm:
                return seed(term);
            case ConditionalTerm c:
                var then = Of(c.Then, seed, isConstant);
                var otherwise = Of(c.Otherwise, seed, isConstant);
                return then.IsConstant(0) && otherwise.IsConstant(0) ? Term.Zero : Conditional(c.Condition, then, otherwise);
            case TableTerm t:
                return Multiply(new TableTerm(t.Operands.ToArray(), t.Kind, true), Of(t.Abscissa, seed, isConstant));
            case CallTerm { Function.Directions: { } directions } d:
                var all = Term.Zero as Term;
                foreach (var (on, slope) in directions(d))
                    if (Of(on, seed, isConstant) is var way && !way.IsConstant(0))
                        all = Add(all, Multiply(slope, way));
                return all;
            case CallTerm f:
                var sum = Term.Zero as Term;
                for (var i = 0; i < f.Operands.Length; i++)
                    if (f.Function.Slopes[i] is { } slope && Of(f.Operands[i], seed, isConstant) is var along && !along.IsConstant(0))
                        sum = Add(sum, Multiply(new CallTerm(slope, f.Operands.ToArray()), along));
                return sum;
            case OperationTerm o when o.Operands.Length == 1:
                var inner = Of(o.Left, seed, isConstant);
                return inner.IsConstant(0) ? Term.Zero : Chain(o, inner);
            case OperationTerm o:
                return Two(o, Of(o.Left, seed, isConstant), Of(o.Right, seed, isConstant));
            default:
                throw new InvalidOperationException($"unknown term {term.GetType().Name}");
        }
    }

    static Term Two(OperationTerm o, Term da, Term db)
    {
        var (a, b) = (o.Left, o.Right);
        if (da.IsConstant(0) && db.IsConstant(0))
            return Term.Zero;
        switch (o.Kind)
        {
            case Operator.Add:
                return Add(da, db);
            case Operator.Subtract:
                return Subtract(da, db);
            case Operator.Multiply:
                return Add(Multiply(da, b), Multiply(a, db));
            case Operator.Divide:
                return Subtract(Divide(da, b), Multiply(Divide(o, b), db));
            case Operator.Power:
                if (db.IsConstant(0))
                    return Multiply(Multiply(b, Power(a, Subtract(b, Term.One))), da);
                var first = da.IsConstant(0) ? Term.Zero : Multiply(Multiply(b, Power(a, Subtract(b, Term.One))), da);
                return Add(first, Multiply(Multiply(o, Unary(Operator.Log, a)), db));
            case Operator.Minimum:
                return Conditional(Binary(Operator.Less, a, b), da, db);
            case Operator.Maximum:
                return Conditional(Binary(Operator.Greater, a, b), da, db);
            case Operator.Atan2:
                return Divide(Subtract(Multiply(b, da), Multiply(a, db)), Add(Multiply(a, a), Multiply(b, b)));
            case Operator.Modulo or Operator.Remainder:
                var whole = o.Kind == Operator.Modulo ? Unary(Operator.Floor, Divide(a, b)) : Binary(Operator.IntegerDivide, a, b);
                return Subtract(da, Multiply(whole, db));
            default:
                return Term.Zero;
        }
    }

    static Term Chain(OperationTerm o, Term inner)
    {
        var a = o.Left;
        Term outer;
        switch (o.Kind)
        {
            case Operator.Negate:
                return Negate(inner);
            case Operator.Absolute:
                outer = Unary(Operator.Sign, a);
                break;
            case Operator.SquareRoot:
                return Divide(inner, Multiply(Term.Two, o));
            case Operator.Sin:
                outer = Unary(Operator.Cos, a);
                break;
            case Operator.Cos:
                outer = Negate(Unary(Operator.Sin, a));
                break;
            case Operator.Tan:
                outer = Add(Term.One, Multiply(o, o));
                break;
            case Operator.Asin:
                return Divide(inner, Unary(Operator.SquareRoot, Subtract(Term.One, Multiply(a, a))));
            case Operator.Acos:
                return Negate(Divide(inner, Unary(Operator.SquareRoot, Subtract(Term.One, Multiply(a, a)))));
            case Operator.Atan:
                return Divide(inner, Add(Term.One, Multiply(a, a)));
            case Operator.Sinh:
                outer = Unary(Operator.Cosh, a);
                break;
            case Operator.Cosh:
                outer = Unary(Operator.Sinh, a);
                break;
            case Operator.Tanh:
                outer = Subtract(Term.One, Multiply(o, o));
                break;
            case Operator.Exp:
                outer = o;
                break;
            case Operator.Log:
                return Divide(inner, a);
            case Operator.Log10:
                return Divide(inner, Multiply(a, Term.Of(Math.Log(10))));
            default:
                return Term.Zero;
        }

        return Multiply(outer, inner);
    }
}
