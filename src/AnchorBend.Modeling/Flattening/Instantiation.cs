using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Makes instances of classes and the members that they have, with what modifications say of them (chapters 4, 5 and 7).</summary>
sealed class Instantiation(Elaborator flat)
{
    readonly List<Finding> findings = flat.Findings;
    readonly WorkBudget budget = flat.Budget;
    readonly List<Member> allMembers = [];
    readonly List<Instance> allInstances = [];
    int depth;

    public IReadOnlyList<Instance> All => allInstances;

    /// <summary>Members of all instances, in the order of their declaration.</summary>
    public IReadOnlyList<Member> Members => allMembers;

    public const int MaximumInstanceDepth = 60;

    public Instance MakeInstance(string path, LexicalClass type, List<Modifier> modifiers)
    {
        budget.Part(path, type.Definition.At);
        var instance = new Instance(path, type);
        instance.Scope = new InstanceScope(flat, instance);
        allInstances.Add(instance);
        AddElements(instance, type, modifiers, 0);
        foreach (var argument in modifiers.SelectMany(m => m.Modification.Arguments.Select(a => (a, m))))
        {
            var name = argument.a.Name.Split('.')[0];
            if (instance.Members.ContainsKey(name) || argument.a.RedeclaresClass && instance.Redeclared.ContainsKey(name))
                continue;
            findings.Add(
                new Finding(
                    Severity.Error,
                    "unknown-name",
                    $"{type.Definition.Name} has no parameter '{name}'.",
                    path,
                    name,
                    argument.a.At,
                    Nearest.Of(name, instance.Members.Keys) is { } near ? $"Did you mean {near}?" : null
                )
            );
        }

        return instance;
    }

    void AddElements(Instance instance, LexicalClass type, List<Modifier> modifiers, int level)
    {
        var definition = type.Definition;
        if (level > MaximumInstanceDepth)
            throw new LanguageException("recursion", $"{definition.Name} extends itself.", definition.At);
        // Two bases with two bases each, and so on, are many.
        budget.Values(1 + definition.Elements.Count, definition.At);
        instance.Inherited.Add(type);
        // What a bundle's type declares is only said to be there; its signals are those that are connected (section 9.1.3).
        if (definition.IsExpandable)
            return;
        foreach (var nested in definition.Classes)
            flat.Guard(instance.Path, () => RedeclareClass(instance, nested, modifiers));
        foreach (var element in definition.Elements)
        {
            if (element is ExtendsClause extends)
            {
                flat.Guard(instance.Path, () =>
                {
                    var ancestor = flat.Classes.FindClass(extends.Base, type) ?? throw flat.Classes.UnknownClass(extends.Base, extends.At);
                    List<Modifier> merged = extends.Modification is null
                        ? modifiers
                        : [.. modifiers, new Modifier(extends.Modification, instance.Scope, [])];
                    AddElements(instance, ancestor, merged, level + 1);
                });
            }
            else if (element is ComponentDeclaration component)
            {
                var own = modifiers.SelectMany(m => m.For(component.Name)).ToList();
                if (component.Modification is not null)
                {
                    if (component.IsFinal)
                        own.Clear();
                    own.Add(new Modifier(component.Modification, instance.Scope, []));
                }

                var member = new Member(instance, component, type, own);
                flat.Guard(instance.Path, () => member = Redeclared(instance, component, modifiers, own) ?? member, component.Name);
                if (!instance.Members.TryAdd(component.Name, member))
                {
                    findings.Add(
                        new Finding(
                            Severity.Error,
                            "duplicate-name",
                            $"The name '{component.Name}' is declared twice.",
                            instance.Path,
                            component.Name,
                            component.At
                        )
                    );
                    continue;
                }

                allMembers.Add(member);
            }
        }

        foreach (var equation in definition.Equations)
            instance.Equations.Add((equation, false));
        foreach (var equation in definition.InitialEquations)
            instance.Equations.Add((equation, true));
        instance.Algorithms.AddRange(definition.Algorithms);
    }

    /// <summary>A component whose type a modification exchanges; the new type is looked up where the modification was written.</summary>
    Member? Redeclared(Instance instance, ComponentDeclaration component, List<Modifier> modifiers, List<Modifier> own)
    {
        foreach (var modifier in modifiers)
        foreach (var argument in modifier.Modification.Arguments)
        {
            if (argument.Name != component.Name || argument.RedeclaresClass || argument.Redeclared is not { } type)
                continue;
            if (!component.IsReplaceable)
                throw new LanguageException(
                    "redeclare",
                    $"'{component.Name}' is not replaceable.",
                    argument.At,
                    "Declare it with 'replaceable'."
                );
            return new Member(instance, component with { TypeName = type }, modifier.Scope.Type, own);
        }

        return null;
    }

    void RedeclareClass(Instance instance, ClassDefinition nested, List<Modifier> modifiers)
    {
        foreach (var modifier in modifiers)
        foreach (var argument in modifier.Modification.Arguments)
        {
            if (argument.Name != nested.Name || !argument.RedeclaresClass || instance.Redeclared.ContainsKey(nested.Name))
                continue;
            if (!nested.IsReplaceable)
                throw new LanguageException(
                    "redeclare",
                    $"'{nested.Name}' is not replaceable.",
                    argument.At,
                    "Declare it with 'replaceable'."
                );
            var found = flat.Classes.FindClass(argument.Redeclared!, modifier.Scope.Type, modifier.Scope.Place)
                ?? throw flat.Classes.UnknownClass(argument.Redeclared!, argument.At);
            instance.Redeclared[nested.Name] =
                argument.Value.Arguments.Count == 0
                    ? found
                    : found with
                    {
                        Definition = new ClassDefinition(
                            nested.Kind,
                            nested.Name,
                            null,
                            false,
                            [new ExtendsClause(found.Definition.Name, argument.Value, argument.At)],
                            [],
                            [],
                            null,
                            argument.At
                        ),
                    };
        }
    }

    /// <summary>Makes a member's variables or instances; safe to call again.</summary>
    public void Ensure(Member member)
    {
        if (member.IsMade)
            return;
        var declaration = member.Declaration;
        if (member.IsBeingMade)
            throw new LanguageException(
                "cycle",
                $"The value of '{member.Owner.PathOf(declaration.Name)}' depends on itself.",
                declaration.At
            );
        member.IsBeingMade = true;
        try
        {
            Make(member);
        }
        finally
        {
            member.IsBeingMade = false;
            member.IsMade = true;
        }
    }

    void Make(Member member)
    {
        var declaration = member.Declaration;
        var binder = member.Owner.Scope.Binder;
        if (declaration.Condition is not null)
        {
            var condition = binder.Condition(declaration.Condition);
            member.IsPresent = flat.Values.ConstantValue(condition, declaration.Condition.At) != 0;
            if (!member.IsPresent)
            {
                flat.Model.LeftOut.Add(member.Owner.PathOf(declaration.Name));
                return;
            }
        }

        var typeName = declaration.TypeName;
        IReadOnlyList<Expression> extra = [];
        for (var hop = 0; ; hop++)
        {
            if (Primitive(typeName) is { } type)
            {
                flat.Variables.MakeVariables(member, type, [.. declaration.Dimensions, .. extra]);
                return;
            }

            var found = flat.Classes.FindClass(typeName, member.WrittenIn, member.Owner)
                ?? throw flat.Classes.UnknownClass(typeName, declaration.At);
            if (found.Definition.Enumeration is not null)
            {
                member.EnumerationType = found.Definition;
                flat.Variables.MakeVariables(member, ScalarType.Enumeration, [.. declaration.Dimensions, .. extra]);
                return;
            }

            if (found.Definition.Alias is not { } alias)
            {
                if (found.Definition.IsPartial)
                    throw new LanguageException(
                        "partial",
                        $"{found.Definition.Name} is partial: it is a base for parts, not a part.",
                        declaration.At
                    );
                MakeParts(member, found);
                return;
            }

            if (hop > 20)
                throw new LanguageException("recursion", $"The type {typeName} is defined by itself.", declaration.At);
            if (alias.Modification is not null)
                member.Modifiers.Add(new Modifier(alias.Modification, member.Owner.Scope, []));
            extra = [.. extra, .. alias.Dimensions];
            typeName = alias.Base;
        }
    }

    public static ScalarType? Primitive(string name) =>
        name switch
        {
            "Real" => ScalarType.Real,
            "Integer" => ScalarType.Integer,
            "Boolean" => ScalarType.Boolean,
            "String" => ScalarType.String,
            _ => null,
        };

    void MakeParts(Member member, LexicalClass type)
    {
        var declaration = member.Declaration;
        var binder = member.Owner.Scope.Binder;
        var path = member.Owner.PathOf(declaration.Name);
        member.Shape = [.. declaration.Dimensions.Select(binder.WholeNumber)];
        var total = Value.CountOf(member.Shape);
        if (total is < 0 or > 100_000)
            throw new LanguageException("size", $"{total} parts in one array are too many.", declaration.At);
        if (depth >= MaximumInstanceDepth)
            throw new LanguageException(
                "recursion",
                $"{type.Definition.Name} contains itself, directly or through its parts.",
                declaration.At
            );
        depth++;
        member.Parts = new Instance[total];
        for (var i = 0; i < total; i++)
        {
            var index = Subscripts(i, member.Shape);
            var modifiers = member.Modifiers.Select(m => m with { Index = [.. m.Index, .. index] }).ToList();
            var first = allMembers.Count;
            if (type.Definition.Kind == ClassKind.Record)
                modifiers = [.. modifiers.Select(m => OfRecord(m, type))];
            member.Parts[i] = MakeInstance(index.Length == 0 ? path : $"{path}[{string.Join(',', index)}]", type, modifiers);
            for (var k = first; k < allMembers.Count; k++)
            {
                var inner = allMembers[k];
                flat.Guard(inner.Owner.Path, () => Ensure(inner), inner.Declaration.Name);
            }
        }

        depth--;
    }

    public static int[] Subscripts(int flat, int[] shape)
    {
        var index = new int[shape.Length];
        for (var d = shape.Length - 1; d >= 0; d--)
        {
            index[d] = flat % shape[d] + 1;
            flat /= shape[d];
        }

        return index;
    }

    /// <summary>A record's value, another record or a call of its constructor, as values of its members (section 12.6).</summary>
    Modifier OfRecord(Modifier modifier, LexicalClass record)
    {
        if (modifier.Modification.Binding is not { } value)
            return modifier;
        var names = RecordMembers(record, 0);
        IEnumerable<(string Name, Expression Value)> members = value switch
        {
            Reference whole => names.Select(n => (n, (Expression)(whole with { Parts = [.. whole.Parts, new ReferencePart(n, [])] }))),
            Call call
                when flat.Classes.FindClass(call.Function, modifier.Scope.Type, modifier.Scope.Place)?.Definition
                    is { Kind: ClassKind.Record } => call
                .Arguments.Select(
                    (a, i) =>
                        (
                            names.ElementAtOrDefault(i)
                                ?? throw new LanguageException(
                                    "call",
                                    $"{record.Definition.Name} has only {names.Count} members.",
                                    call.At
                                ),
                            a
                        )
                )
                .Concat(call.Named),
            _ => throw new LanguageException(
                "type",
                $"A record of type {record.Definition.Name} is needed here.",
                value.At,
                $"Write {record.Definition.Name}({string.Join(", ", names.Select(n => n + " = …"))})."
            ),
        };
        var arguments = members.Select(m => new ModificationArgument(m.Name, Modification.Of(m.Value), false, false, value.At));
        return modifier with { Modification = new Modification([.. arguments, .. modifier.Modification.Arguments], null) };
    }

    List<string> RecordMembers(LexicalClass record, int level)
    {
        if (level > MaximumInstanceDepth)
            return [];
        budget.Values(1 + record.Definition.Elements.Count, record.Definition.At);
        return
        [
            .. record.Definition.Elements.SelectMany(e =>
                e switch
                {
                    ComponentDeclaration c => [c.Name],
                    ExtendsClause extends => flat.Classes.FindClass(extends.Base, record) is { } ancestor
                        ? RecordMembers(ancestor, level + 1)
                        : [],
                    _ => (IEnumerable<string>)[],
                }
            ),
        ];
    }
}
