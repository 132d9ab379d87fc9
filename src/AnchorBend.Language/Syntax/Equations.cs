namespace AnchorBend.Language.Syntax;

/// <summary>An equation as written, before arrays are expanded.</summary>
public abstract record Equation(Position At);

public sealed record EqualEquation(Expression Left, Expression Right, Position At) : Equation(At);

public sealed record ConnectEquation(Reference First, Reference Second, Position At) : Equation(At)
{
    public Modification? Annotation { get; init; }
}

/// <summary><c>if c then … elseif … else … end if</c>.</summary>
public sealed record IfEquation(
    IReadOnlyList<(Expression Condition, IReadOnlyList<Equation> Body)> Branches,
    IReadOnlyList<Equation> Otherwise,
    Position At
) : Equation(At);

public sealed record ForEquation(IReadOnlyList<(string Name, Expression Range)> Iterators, IReadOnlyList<Equation> Body, Position At)
    : Equation(At);

/// <summary><c>when c then … elsewhen d then … end when</c>; earlier branches win.</summary>
public sealed record WhenEquation(IReadOnlyList<(Expression Condition, IReadOnlyList<Equation> Body)> Branches, Position At) : Equation(At);

/// <summary>A call standing as an equation: <c>reinit(x, 0)</c>, <c>assert(c, "text")</c>.</summary>
public sealed record CallEquation(Call Call, Position At) : Equation(At);
