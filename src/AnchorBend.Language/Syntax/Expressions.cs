namespace AnchorBend.Language.Syntax;

/// <summary>An expression as written. The tree is immutable; every node knows where it starts.</summary>
public abstract record Expression(Position At);

/// <summary>An unsigned number; <see cref="IsInteger"/> when written without point and exponent.</summary>
public sealed record NumberLiteral(double Value, bool IsInteger, Position At) : Expression(At);

public sealed record BooleanLiteral(bool Value, Position At) : Expression(At);

public sealed record StringLiteral(string Value, Position At) : Expression(At);

/// <summary>One step of a component reference: a name and its subscripts.</summary>
public sealed record ReferencePart(string Name, IReadOnlyList<Expression> Subscripts);

/// <summary>A component reference such as <c>drum.inertia.w</c> or <c>a[i, 1]</c>.</summary>
public sealed record Reference(IReadOnlyList<ReferencePart> Parts, Position At) : Expression(At)
{
    public Reference(string name, Position at = default)
        : this([new ReferencePart(name, [])], at) { }

    /// <summary>The reference's names joined by dots, without subscripts.</summary>
    public string Path => string.Join('.', Parts.Select(p => p.Name));
}

public enum UnaryKind
{
    Plus,
    Minus,
    Not,
}

public enum BinaryKind
{
    Add,
    Subtract,
    Multiply,
    Divide,
    Power,
    ElementAdd,
    ElementSubtract,
    ElementMultiply,
    ElementDivide,
    ElementPower,
    Equal,
    NotEqual,
    Less,
    LessOrEqual,
    Greater,
    GreaterOrEqual,
    And,
    Or,
}

public sealed record Unary(UnaryKind Kind, Expression Operand, Position At) : Expression(At);

public sealed record Binary(BinaryKind Kind, Expression Left, Expression Right, Position At) : Expression(At);

/// <summary>A call by position and by name: <c>sample(0, 0.1)</c>, <c>delay(u, T)</c>.</summary>
public sealed record Call(
    string Function,
    IReadOnlyList<Expression> Arguments,
    IReadOnlyList<(string Name, Expression Value)> Named,
    Position At
) : Expression(At);

/// <summary><c>if c then a elseif d then b else e</c>; one branch a condition, in order.</summary>
public sealed record Conditional(IReadOnlyList<(Expression Condition, Expression Value)> Branches, Expression Otherwise, Position At)
    : Expression(At);

/// <summary><c>{a, b, c}</c>.</summary>
public sealed record ArrayLiteral(IReadOnlyList<Expression> Elements, Position At) : Expression(At);

/// <summary><c>[a, b; c, d]</c>: rows of columns.</summary>
public sealed record MatrixLiteral(IReadOnlyList<IReadOnlyList<Expression>> Rows, Position At) : Expression(At);

/// <summary><c>first:last</c> or <c>first:step:last</c>.</summary>
public sealed record RangeExpression(Expression First, Expression? Step, Expression Last, Position At) : Expression(At);

/// <summary><c>{f(i) for i in 1:n}</c>.</summary>
public sealed record Comprehension(Expression Element, IReadOnlyList<(string Name, Expression Range)> Iterators, Position At)
    : Expression(At);

/// <summary><c>(a, , b)</c> at the left of a call with several results; null drops one.</summary>
public sealed record TupleExpression(IReadOnlyList<Expression?> Elements, Position At) : Expression(At);

/// <summary>A bare <c>:</c> in a subscript or a dimension.</summary>
public sealed record WholeDimension(Position At) : Expression(At);

/// <summary><c>end</c> in a subscript.</summary>
public sealed record EndOfDimension(Position At) : Expression(At);

/// <summary>
/// A value typed with a unit in a field, such as <c>250 rpm</c>. Not part of the standard's text: fields of the interface
/// and <c>--set</c> accept it; a text export writes the converted number.
/// </summary>
public sealed record Quantity(Expression Value, Units.Unit Unit, Position At) : Expression(At);
