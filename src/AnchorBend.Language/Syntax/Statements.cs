namespace AnchorBend.Language.Syntax;

/// <summary>A statement of an algorithm section as written (Modelica Language Specification 3.6, chapter 11).</summary>
public abstract record Statement(Position At);

/// <summary><c>v := value</c>.</summary>
public sealed record AssignStatement(Reference Target, Expression Value, Position At) : Statement(At);

/// <summary><c>(a, , b) := f(x)</c>; a null target drops its result.</summary>
public sealed record AssignManyStatement(IReadOnlyList<Reference?> Targets, Call Call, Position At) : Statement(At);

public sealed record IfStatement(
    IReadOnlyList<(Expression Condition, IReadOnlyList<Statement> Body)> Branches,
    IReadOnlyList<Statement> Otherwise,
    Position At
) : Statement(At);

public sealed record ForStatement(IReadOnlyList<(string Name, Expression Range)> Iterators, IReadOnlyList<Statement> Body, Position At)
    : Statement(At);

public sealed record WhileStatement(Expression Condition, IReadOnlyList<Statement> Body, Position At) : Statement(At);

/// <summary>Earlier branches win.</summary>
public sealed record WhenStatement(IReadOnlyList<(Expression Condition, IReadOnlyList<Statement> Body)> Branches, Position At)
    : Statement(At);

public sealed record CallStatement(Call Call, Position At) : Statement(At);

public sealed record BreakStatement(Position At) : Statement(At);

public sealed record ReturnStatement(Position At) : Statement(At);

/// <summary>One algorithm section.</summary>
public sealed record AlgorithmSection(bool Initial, IReadOnlyList<Statement> Statements, Position At);
