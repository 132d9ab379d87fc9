namespace AnchorBend.Language.Terms;

/// <summary>
/// A scalar expression over the variables of a flat model, addressed by index. Booleans are the numbers 0 and 1, enumeration values
/// count from 1. Terms are immutable and may be shared.
/// </summary>
public abstract class Term
{
    public static readonly ConstantTerm Zero = new(0);
    public static readonly ConstantTerm One = new(1);
    public static readonly ConstantTerm Two = new(2);

    public static ConstantTerm Of(double value) =>
        value == 0 && !double.IsNegative(value) ? Zero
        : value == 1 ? One
        : new ConstantTerm(value);

    public static ConstantTerm Of(bool value) => value ? One : Zero;

    public bool IsConstant(double value) => this is ConstantTerm c && c.Value == value;

    /// <summary>The operands, in order.</summary>
    public abstract ReadOnlySpan<Term> Operands { get; }

    public override string ToString() => TermText.Print(this, i => $"v{i}");

    /// <summary>A text that no other term has.</summary>
    public string Key => TermKey.Of(this);
}

public sealed class ConstantTerm(double value) : Term
{
    public double Value { get; } = value;

    public override ReadOnlySpan<Term> Operands => [];
}

/// <summary>The present value of variable <see cref="Index"/>.</summary>
public sealed class VariableTerm(int index) : Term
{
    public int Index { get; } = index;

    public override ReadOnlySpan<Term> Operands => [];
}

/// <summary>The value of a discrete variable before the present event, <c>pre(v)</c>.</summary>
public sealed class PreviousTerm(int index) : Term
{
    public int Index { get; } = index;

    public override ReadOnlySpan<Term> Operands => [];
}

public sealed class OperationTerm : Term
{
    readonly Term[] operands;

    public OperationTerm(Operator kind, Term operand)
    {
        Kind = kind;
        operands = [operand];
    }

    public OperationTerm(Operator kind, Term left, Term right)
    {
        Kind = kind;
        operands = [left, right];
    }

    public Operator Kind { get; }

    /// <summary>Where conditions were put together by and, or.</summary>
    public Origin? Origin { get; init; }

    public Term Left => operands[0];

    public Term Right => operands[1];

    public override ReadOnlySpan<Term> Operands => operands;
}

/// <summary>
/// An order relation of reals that makes a state or time event when it changes: between events its value stays what it was
/// (Modelica Language Specification 3.6, section 8.5). Relations inside noEvent are <see cref="OperationTerm"/>s.
/// </summary>
public sealed class RelationTerm(Operator kind, Term left, Term right, Origin? origin = null) : Term
{
    public Origin? Origin { get; } = origin;

    readonly Term[] operands = [left, right];

    public Operator Kind { get; } = kind;

    public Term Left => operands[0];

    public Term Right => operands[1];

    public override ReadOnlySpan<Term> Operands => operands;
}

public sealed class ConditionalTerm(Term condition, Term then, Term otherwise, Origin? origin = null) : Term
{
    public Origin? Origin { get; } = origin;

    readonly Term[] operands = [condition, then, otherwise];

    public Term Condition => operands[0];

    public Term Then => operands[1];

    public Term Otherwise => operands[2];

    public override ReadOnlySpan<Term> Operands => operands;
}

/// <summary>
/// Piecewise interpolation in a table, <c>interpolate(x, xs, ys, kind)</c>: what equations cannot say.
/// <see cref="Slope"/> marks the derivative with respect to x.
/// </summary>
public sealed class TableTerm : Term
{
    readonly Term[] operands;

    /// <param name="all">The abscissa, then the n knots, then the n values.</param>
    public TableTerm(Term[] all, TableKind kind, bool slope)
    {
        operands = all;
        Kind = kind;
        Slope = slope;
    }

    public TableKind Kind { get; }

    public bool Slope { get; }

    public Origin? Origin { get; init; }

    public int Count => (operands.Length - 1) / 2;

    public Term Abscissa => operands[0];

    public ReadOnlySpan<Term> Knots => operands.AsSpan(1, Count);

    public ReadOnlySpan<Term> Values => operands.AsSpan(1 + Count, Count);

    public override ReadOnlySpan<Term> Operands => operands;
}

/// <summary>How a table goes on between its knots; outside it keeps its first and last value, or repeats.</summary>
public enum TableKind
{
    Linear,
    Steps,
    RepeatingLinear,
    RepeatingSteps,
}

/// <summary>The value that the source of delay <see cref="Delay"/> had a delay time ago; the flat model lists the delays.</summary>
/// <param name="duration">The delay time where it varies during the run; null where it is known before.</param>
public sealed class DelayTerm(int delay, Term? duration = null) : Term
{
    readonly Term[] operands = duration is null ? [] : [duration];

    public int Delay { get; } = delay;

    public Term? Duration => operands.Length > 0 ? operands[0] : null;

    public override ReadOnlySpan<Term> Operands => operands;
}

public enum Operator
{
    Add,
    Subtract,
    Multiply,
    Divide,
    Power,
    Minimum,
    Maximum,
    Atan2,
    Modulo,
    Remainder,
    IntegerDivide,
    Less,
    LessOrEqual,
    Greater,
    GreaterOrEqual,
    Equal,
    NotEqual,
    And,
    Or,
    Negate,
    Not,
    Absolute,
    Sign,
    Floor,
    Ceiling,
    SquareRoot,
    Sin,
    Cos,
    Tan,
    Asin,
    Acos,
    Atan,
    Sinh,
    Cosh,
    Tanh,
    Exp,
    Log,
    Log10,
}
