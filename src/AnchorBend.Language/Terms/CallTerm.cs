namespace AnchorBend.Language.Terms;

/// <summary>
/// A call of a function that is computed outside of the equations, such as a property of a fluid: one term however large the function is.
/// It depends on its operands alone and is smooth in those that it has slopes along.
/// </summary>
public sealed class CallTerm : Term
{
    readonly Term[] operands;

    public CallTerm(Intrinsic function, Term[] operands)
    {
        if (operands.Length != function.Arity)
            throw new ArgumentException($"{function.Name} takes {function.Arity} operands.", nameof(operands));
        Function = function;
        this.operands = operands;
    }

    public Intrinsic Function { get; }

    public override ReadOnlySpan<Term> Operands => operands;
}
