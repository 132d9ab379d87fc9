using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;

namespace AnchorBend.Modeling.Flattening;

/// <summary>A modification and the place where its expressions are to be understood.</summary>
/// <param name="Index">Subscripts of the array element the modification is applied to; empty outside arrays of parts.</param>
sealed record Modifier(Modification Modification, InstanceScope Scope, int[] Index)
{
    /// <summary>The part of this modification that concerns one component or attribute.</summary>
    public IEnumerable<Modifier> For(string name)
    {
        foreach (var argument in Modification.Arguments)
        {
            var index = argument.Each ? [] : Index;
            if (argument.Name == name)
                yield return new Modifier(argument.Value, Scope, index);
            else if (argument.Name.StartsWith(name + ".", StringComparison.Ordinal))
                yield return new Modifier(
                    new Modification([argument with { Name = argument.Name[(name.Length + 1)..] }], null),
                    Scope,
                    index
                );
        }
    }
}

/// <summary>An instance of a class: its members by name, made when first needed.</summary>
sealed class Instance(string path, LexicalClass type)
{
    public string Path { get; } = path;

    public LexicalClass Type { get; } = type;

    public Dictionary<string, Member> Members { get; } = [];

    /// <summary>Equations of the class and of those it extends, each with the class it was written in.</summary>
    public List<(Equation Equation, bool Initial)> Equations { get; } = [];

    public List<AlgorithmSection> Algorithms { get; } = [];

    /// <summary>Classes that took the place of replaceable ones.</summary>
    public Dictionary<string, LexicalClass> Redeclared { get; } = [];

    /// <summary>Classes that were inherited, whose nested classes are visible here.</summary>
    public List<LexicalClass> Inherited { get; } = [];

    public InstanceScope Scope { get; set; } = null!;

    public bool IsConnector => Type.Definition.Kind == ClassKind.Connector;

    public string PathOf(string name) => Path.Length == 0 ? name : Path + "." + name;
}

/// <summary>A component of an instance: a variable (with its value) or one or more instances.</summary>
sealed class Member(Instance owner, ComponentDeclaration declaration, LexicalClass writtenIn, List<Modifier> modifiers)
{
    public Instance Owner { get; } = owner;

    public ComponentDeclaration Declaration { get; } = declaration;

    public LexicalClass WrittenIn { get; } = writtenIn;

    /// <summary>Outermost first: the first that says something wins.</summary>
    public List<Modifier> Modifiers { get; } = modifiers;

    public bool IsBeingMade { get; set; }

    public bool IsMade { get; set; }

    /// <summary>False where the component's condition is false.</summary>
    public bool IsPresent { get; set; } = true;

    public Value? Variable { get; set; }

    public int[] Shape { get; set; } = [];

    public Instance[]? Parts { get; set; }

    /// <summary>For a choice type: its literals.</summary>
    public ClassDefinition? EnumerationType { get; set; }

    public Modifier? Binding => Modifiers.FirstOrDefault(m => m.Modification.Binding is not null);

    public Modifier? Attribute(string name) =>
        Modifiers.SelectMany(m => m.For(name)).FirstOrDefault(m => m.Modification.Binding is not null);
}
