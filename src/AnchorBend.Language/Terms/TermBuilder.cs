namespace AnchorBend.Language.Terms;

/// <summary>Builds terms, folding constants and dropping neutral elements; never changes the value for finite operands.</summary>
public static class TermBuilder
{
    public static Term Add(Term a, Term b)
    {
        if (a.IsConstant(0))
            return b;
        if (b.IsConstant(0))
            return a;
        if (b is OperationTerm { Kind: Operator.Negate } n)
            return Binary(Operator.Subtract, a, n.Left);
        return Binary(Operator.Add, a, b);
    }

    public static Term Subtract(Term a, Term b)
    {
        if (b.IsConstant(0))
            return a;
        return a.IsConstant(0) ? Negate(b) : Binary(Operator.Subtract, a, b);
    }

    public static Term Multiply(Term a, Term b)
    {
        if (a.IsConstant(0) || b.IsConstant(0))
            return Term.Zero;
        if (a.IsConstant(1))
            return b;
        if (b.IsConstant(1))
            return a;
        if (a.IsConstant(-1))
            return Negate(b);
        return b.IsConstant(-1) ? Negate(a) : Binary(Operator.Multiply, a, b);
    }

    public static Term Divide(Term a, Term b)
    {
        if (b.IsConstant(1))
            return a;
        return a.IsConstant(0) && b is not ConstantTerm ? Term.Zero : Binary(Operator.Divide, a, b);
    }

    /// <summary>A power; small whole exponents become products, which are faster and exact in sign.</summary>
    public static Term Power(Term a, Term b)
    {
        if (b.IsConstant(0))
            return Term.One;
        if (b.IsConstant(1))
            return a;
        if (b.IsConstant(2) && a is VariableTerm or ConstantTerm && b.IsConstant(2))
            return Multiply(a, a);
        if (b.IsConstant(0.5))
            return Unary(Operator.SquareRoot, a);
        return Binary(Operator.Power, a, b);
    }

    public static Term Negate(Term a) =>
        a switch
        {
            ConstantTerm c => Term.Of(-c.Value),
            OperationTerm { Kind: Operator.Negate } o => o.Left,
            OperationTerm { Kind: Operator.Subtract } o => Subtract(o.Right, o.Left),
            _ => new OperationTerm(Operator.Negate, a),
        };

    public static Term Not(Term a) =>
        a switch
        {
            ConstantTerm c => Term.Of(c.Value == 0),
            OperationTerm { Kind: Operator.Not } o => o.Left,
            _ => new OperationTerm(Operator.Not, a),
        };

    public static Term And(Term a, Term b)
    {
        if (a is ConstantTerm ca)
            return ca.Value == 0 ? Term.Zero : b;
        if (b is ConstantTerm cb)
            return cb.Value == 0 ? Term.Zero : a;
        return new OperationTerm(Operator.And, a, b);
    }

    public static Term Or(Term a, Term b)
    {
        if (a is ConstantTerm ca)
            return ca.Value != 0 ? Term.One : b;
        if (b is ConstantTerm cb)
            return cb.Value != 0 ? Term.One : a;
        return new OperationTerm(Operator.Or, a, b);
    }

    public static Term Conditional(Term condition, Term then, Term otherwise, Origin? origin = null)
    {
        if (condition is ConstantTerm c)
            return c.Value != 0 ? then : otherwise;
        return ReferenceEquals(then, otherwise) ? then : new ConditionalTerm(condition, then, otherwise, origin);
    }

    /// <summary>An operation of one operand, folded where the operand is constant and the result finite.</summary>
    public static Term Unary(Operator kind, Term a)
    {
        if (kind == Operator.Negate)
            return Negate(a);
        if (kind == Operator.Not)
            return Not(a);
        if (a is not ConstantTerm c)
            return new OperationTerm(kind, a);
        var value = TermEvaluator.Apply(kind, c.Value, 0);
        return double.IsFinite(value) ? Term.Of(value) : new OperationTerm(kind, a);
    }

    /// <summary>An operation of two operands, folded where both are constant and the result finite.</summary>
    public static Term Binary(Operator kind, Term a, Term b)
    {
        if (a is not ConstantTerm ca || b is not ConstantTerm cb)
            return new OperationTerm(kind, a, b);
        var value = TermEvaluator.Apply(kind, ca.Value, cb.Value);
        return double.IsFinite(value) ? Term.Of(value) : new OperationTerm(kind, a, b);
    }

    /// <summary>
    /// Joins many terms by an associative operation as a balanced tree: a chain of thousands would be too deep to walk, and sums of pairs
    /// round less (Higham, "Accuracy and Stability of Numerical Algorithms", section 4.2).
    /// </summary>
    public static Term Join(ReadOnlySpan<Term> terms, Term none, Func<Term, Term, Term> operation) =>
        terms.Length switch
        {
            0 => none,
            1 => terms[0],
            _ => operation(Join(terms[..(terms.Length / 2)], none, operation), Join(terms[(terms.Length / 2)..], none, operation)),
        };

    /// <summary>Rebuilds a term with its leaves replaced; unchanged parts stay shared.</summary>
    /// <param name="leaf">The replacement for a variable, pre or delay leaf; the leaf itself to keep it.</param>
    /// <param name="vanishes">Factors that are zero: products with them become zero.</param>
    public static Term Rewrite(Term term, Func<Term, Term> leaf, Func<Term, bool>? vanishes = null)
    {
        switch (term)
        {
            case ConstantTerm:
                return term;
            case DelayTerm { Duration: { } duration } d:
                var moved = Rewrite(duration, leaf, vanishes);
                return ReferenceEquals(moved, duration) ? d : new DelayTerm(d.Delay, moved);
            case VariableTerm or PreviousTerm or DelayTerm:
                return leaf(term);
            case OperationTerm o when o.Operands.Length == 1:
                var operand = Rewrite(o.Left, leaf, vanishes);
                return ReferenceEquals(operand, o.Left) ? o : Unary(o.Kind, operand);
            case OperationTerm { Kind: Operator.Multiply } o when vanishes is not null && (vanishes(o.Left) || vanishes(o.Right)):
                return Term.Zero;
            case OperationTerm o:
                var left = Rewrite(o.Left, leaf, vanishes);
                var right = Rewrite(o.Right, leaf, vanishes);
                return ReferenceEquals(left, o.Left) && ReferenceEquals(right, o.Right)
                    ? o
                    : Marked(Rebuilt(o.Kind, left, right), o.Origin);
            case RelationTerm r:
                left = Rewrite(r.Left, leaf, vanishes);
                right = Rewrite(r.Right, leaf, vanishes);
                return ReferenceEquals(left, r.Left) && ReferenceEquals(right, r.Right)
                    ? r
                    : new RelationTerm(r.Kind, left, right, r.Origin);
            case ConditionalTerm c:
                var condition = Rewrite(c.Condition, leaf, vanishes);
                var then = Rewrite(c.Then, leaf, vanishes);
                var otherwise = Rewrite(c.Otherwise, leaf, vanishes);
                return ReferenceEquals(condition, c.Condition) && ReferenceEquals(then, c.Then) && ReferenceEquals(otherwise, c.Otherwise)
                    ? c
                    : Conditional(condition, then, otherwise, c.Origin);
            case TableTerm t:
                return Rewritten(t.Operands, leaf, vanishes) is { } all ? new TableTerm(all, t.Kind, t.Slope) { Origin = t.Origin } : t;
            case CallTerm f:
                return Rewritten(f.Operands, leaf, vanishes) is { } given ? new CallTerm(f.Function, given) : f;
            case SequenceTerm q:
                return Rewritten(q.Operands, leaf, vanishes) is { } others ? new SequenceTerm(q.Sequence, others) : q;
            case SequenceResultTerm r:
                var after = Rewrite(r.After, leaf, vanishes);
                return ReferenceEquals(after, r.After) ? r : new SequenceResultTerm(r.Sequence, r.Slot, after);
            case SlotTerm or OperandTerm:
                return term;
            default:
                throw new InvalidOperationException($"unknown term {term.GetType().Name}");
        }
    }

    /// <summary>Rewritten operands; null where all stay as they are.</summary>
    static Term[]? Rewritten(ReadOnlySpan<Term> operands, Func<Term, Term> leaf, Func<Term, bool>? vanishes)
    {
        Term[]? all = null;
        for (var i = 0; i < operands.Length; i++)
        {
            var now = Rewrite(operands[i], leaf, vanishes);
            if (ReferenceEquals(now, operands[i]))
                continue;
            all ??= operands.ToArray();
            all[i] = now;
        }

        return all;
    }

    /// <summary>Conditions put together, with where that stands; other terms as they are.</summary>
    public static Term Marked(Term term, Origin? origin) =>
        origin is not null && term is OperationTerm { Kind: Operator.And or Operator.Or, Origin: null } o
            ? new OperationTerm(o.Kind, o.Left, o.Right) { Origin = origin }
            : term;

    static Term Rebuilt(Operator kind, Term a, Term b) =>
        kind switch
        {
            Operator.Add => Add(a, b),
            Operator.Subtract => Subtract(a, b),
            Operator.Multiply => Multiply(a, b),
            Operator.Divide => Divide(a, b),
            Operator.Power => Power(a, b),
            Operator.And => And(a, b),
            Operator.Or => Or(a, b),
            _ => Binary(kind, a, b),
        };

    /// <summary>Calls <paramref name="visit"/> for every variable read now (not for pre).</summary>
    public static void VisitVariables(Term term, Action<int> visit)
    {
        if (term is VariableTerm v)
        {
            visit(v.Index);
            return;
        }

        foreach (var operand in term.Operands)
            VisitVariables(operand, visit);
    }

    /// <summary>Whether any node of the term satisfies the condition.</summary>
    public static bool Any(Term term, Func<Term, bool> condition)
    {
        if (condition(term))
            return true;
        foreach (var operand in term.Operands)
            if (Any(operand, condition))
                return true;
        return false;
    }
}
