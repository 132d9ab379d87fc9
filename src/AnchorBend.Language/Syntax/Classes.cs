namespace AnchorBend.Language.Syntax;

public enum ClassKind
{
    Model,
    Block,
    Connector,
    Record,
    Package,
    Function,
    Type,
    Class,
}

public enum Variability
{
    Constant,
    Parameter,
    Discrete,
    Continuous,
}

public enum Causality
{
    None,
    Input,
    Output,
}

/// <summary>A class with its elements in the order written.</summary>
public sealed record ClassDefinition(
    ClassKind Kind,
    string Name,
    string? Description,
    bool IsPartial,
    IReadOnlyList<Element> Elements,
    IReadOnlyList<Equation> Equations,
    IReadOnlyList<Equation> InitialEquations,
    Modification? Annotation,
    Position At
)
{
    /// <summary>The literals of <c>type T = enumeration(A, B)</c>; null for other classes.</summary>
    public IReadOnlyList<(string Name, string? Description)>? Enumeration { get; init; }

    /// <summary>The class that <c>type T = Real(unit = "N")</c> stands for; null for other classes.</summary>
    public (string Base, IReadOnlyList<Expression> Dimensions, Modification? Modification)? Alias { get; init; }

    public IReadOnlyList<AlgorithmSection> Algorithms { get; init; } = [];

    /// <summary>A function that is computed by the tool under its own name.</summary>
    public bool IsBuiltIn { get; init; }

    /// <summary>Whether a connector takes its members from what is connected to it.</summary>
    public bool IsExpandable { get; init; }

    /// <summary>Whether a modification may exchange this class.</summary>
    public bool IsReplaceable { get; init; }

    public IEnumerable<ComponentDeclaration> Components => Elements.OfType<ComponentDeclaration>();

    public IEnumerable<ClassDefinition> Classes => Elements.OfType<NestedClass>().Select(n => n.Definition);
}

public abstract record Element(Position At);

/// <summary>A class inside a class.</summary>
public sealed record NestedClass(ClassDefinition Definition, Position At) : Element(At);

public sealed record ExtendsClause(string Base, Modification? Modification, Position At) : Element(At);

public sealed record ImportClause(string Name, string? Alias, bool All, Position At) : Element(At);

/// <summary>One declared component: a variable, a parameter, a port or a part.</summary>
public sealed record ComponentDeclaration(string TypeName, string Name, Position At) : Element(At)
{
    public Variability Variability { get; init; } = Variability.Continuous;
    public Causality Causality { get; init; }
    public bool IsFlow { get; init; }

    /// <summary>What is carried along by the flow of its connector, as it leaves the part (chapter 15).</summary>
    public bool IsStream { get; init; }
    public bool IsFinal { get; init; }
    public bool IsProtected { get; init; }
    public bool IsReplaceable { get; init; }
    public IReadOnlyList<Expression> Dimensions { get; init; } = [];
    public Modification? Modification { get; init; }
    public Expression? Condition { get; init; }
    public string? Description { get; init; }
    public Modification? Annotation { get; init; }
}

/// <summary><c>(k = 2, start = 0) = value</c>: arguments and, where given, a binding.</summary>
public sealed record Modification(IReadOnlyList<ModificationArgument> Arguments, Expression? Binding)
{
    public static Modification Of(Expression binding) => new([], binding);

    public ModificationArgument? Argument(string name) => Arguments.FirstOrDefault(a => a.Name == name);
}

/// <summary>One argument of a modification; <see cref="Name"/> may have dots.</summary>
public sealed record ModificationArgument(string Name, Modification Value, bool Each, bool Final, Position At)
{
    public string? Description { get; init; }

    /// <summary>The type or class that takes the place of the declared one; null where nothing is redeclared.</summary>
    public string? Redeclared { get; init; }

    /// <summary>Whether <see cref="Name"/> is a replaceable class, not a component.</summary>
    public bool RedeclaresClass { get; init; }
}
