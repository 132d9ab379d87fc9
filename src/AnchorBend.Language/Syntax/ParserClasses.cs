namespace AnchorBend.Language.Syntax;

/// <summary>Classes, components, modifications and annotations.</summary>
public sealed partial class Parser
{
    static readonly Dictionary<string, ClassKind> ClassKinds = new()
    {
        ["model"] = ClassKind.Model,
        ["block"] = ClassKind.Block,
        ["connector"] = ClassKind.Connector,
        ["record"] = ClassKind.Record,
        ["package"] = ClassKind.Package,
        ["type"] = ClassKind.Type,
        ["class"] = ClassKind.Class,
        ["function"] = ClassKind.Function,
    };

    bool AtClass =>
        Current.Kind == TokenKind.Keyword
        && (
            ClassKinds.ContainsKey(Current.Text)
            || Current.Text is "partial" or "encapsulated" or "pure" or "impure" or "operator" or "expandable"
        );

    ClassDefinition Class()
    {
        Enter();
        var at = Current.At;
        Accept("encapsulated");
        var isPartial = Accept("partial");
        if (!Accept("pure") && At("impure"))
            throw new LanguageException(
                "unsupported",
                "An impure function would give other results on other threads; only functions of their inputs are part of the "
                    + "equation language.",
                Current.At
            );
        var isExpandable = Accept("expandable");
        if (isExpandable && !At("connector"))
            throw Unexpected("'connector' after 'expandable'");
        if (Current is { Text: "operator", Kind: TokenKind.Keyword })
            throw new LanguageException(
                "unsupported",
                $"'{Current.Text}' is not part of this version of the equation language.",
                Current.At
            );
        if (Current.Kind != TokenKind.Keyword || !ClassKinds.TryGetValue(Current.Text, out var kind))
            throw Unexpected("'model', 'block' or another class");
        index++;
        var nameAt = Current.At;
        var name = Identifier("the name of the class");
        if (Accept("="))
            return ShortClass(kind, name, isPartial, at);
        var description = Description();
        var elements = new List<Element>();
        var equations = new List<Equation>();
        var initial = new List<Equation>();
        var algorithms = new List<AlgorithmSection>();
        Modification? annotation = null;
        var isProtected = false;
        var isBuiltIn = false;
        while (!At("end") && Current.Kind != TokenKind.End)
        {
            var before = index;
            try
            {
                if (Accept("protected"))
                    isProtected = true;
                else if (Accept("public"))
                    isProtected = false;
                else if (Accept("equation"))
                    EquationSection(equations);
                else if (At("initial") && Peek().Text == "equation")
                {
                    index += 2;
                    EquationSection(initial);
                }
                else if (Accept("algorithm"))
                    algorithms.Add(Algorithm(false));
                else if (At("initial") && Peek().Text == "algorithm")
                {
                    index += 2;
                    algorithms.Add(Algorithm(true));
                }
                else if (Accept("external"))
                    isBuiltIn = BuiltIn();
                else if (At("annotation"))
                {
                    annotation = Annotation();
                    Expect(";");
                }
                else
                    elements.AddRange(ElementDeclarations(isProtected));
            }
            catch (LanguageException e)
            {
                Recover(e, before);
            }
        }

        Expect("end");
        var endAt = Current.At;
        var endName = Identifier("the name of the class that ends");
        if (endName != name)
            errors.Add(
                new LanguageError(
                    "end-name",
                    $"'end {endName}' closes '{name}', which began at line {nameAt.Line}.",
                    endAt,
                    $"Write 'end {name};'."
                )
            );
        Leave();
        return new ClassDefinition(kind, name, description, isPartial, elements, equations, initial, annotation, at)
        {
            Algorithms = algorithms,
            IsExpandable = isExpandable,
            IsBuiltIn = isBuiltIn,
        };
    }

    /// <summary><c>"builtin";</c>, the language of functions that come with the tool (section 12.9).</summary>
    bool BuiltIn()
    {
        if (Current.Kind != TokenKind.String || Current.Text != "builtin")
            throw new LanguageException(
                "unsupported",
                "Functions in other languages are not part of the equation language: parts run without foreign code.",
                Current.At
            );
        index++;
        Expect(";");
        return true;
    }

    ClassDefinition ShortClass(ClassKind kind, string name, bool isPartial, Position at)
    {
        var empty = new ClassDefinition(kind, name, null, isPartial, [], [], [], null, at);
        Leave();
        if (Accept("enumeration"))
        {
            Expect("(");
            var literals = new List<(string, string?)>();
            do literals.Add((Identifier("the name of a choice"), Description()));
            while (Accept(","));
            Expect(")");
            return empty with { Enumeration = literals, Description = Description(), Annotation = At("annotation") ? Annotation() : null };
        }

        Accept("input");
        Accept("output");
        var target = DottedName();
        var dimensions = At("[") ? Dimensions() : [];
        var modification = At("(") ? new Modification(ModificationArguments(), null) : null;
        return empty with
        {
            Alias = (target, dimensions, modification),
            Description = Description(),
            Annotation = At("annotation") ? Annotation() : null,
        };
    }

    string? Description()
    {
        if (Current.Kind != TokenKind.String)
            return null;
        var text = tokens[index++].Text;
        while (Accept("+"))
        {
            if (Current.Kind != TokenKind.String)
                throw Unexpected("a string");
            text += tokens[index++].Text;
        }

        return text;
    }

    Modification Annotation()
    {
        Expect("annotation");
        return new Modification(ModificationArguments(), null);
    }

    List<Element> ElementDeclarations(bool isProtected)
    {
        var at = Current.At;
        if (Accept("extends"))
        {
            var name = DottedName();
            var modification = At("(") ? new Modification(ModificationArguments(), null) : null;
            if (At("annotation"))
                Annotation();
            Expect(";");
            return [new ExtendsClause(name, modification, at)];
        }

        if (Accept("import"))
            return [Import(at)];
        var isFinal = false;
        var isReplaceable = false;
        while (true)
        {
            if (Accept("final"))
                isFinal = true;
            else if (Accept("replaceable"))
                isReplaceable = true;
            else if (At("redeclare"))
                throw new LanguageException(
                    "unsupported",
                    "'redeclare' stands in a modification here, not as a declaration of its own.",
                    Current.At,
                    "Write it where the part is declared or extended: Drive d(redeclare Motor2 m)."
                );
            else if (At("inner") || At("outer"))
                throw new LanguageException(
                    "unsupported",
                    $"'{Current.Text}' is not part of this version of the equation language.",
                    Current.At
                );
            else
                break;
        }

        if (AtClass)
        {
            var nested = Class() with { IsReplaceable = isReplaceable };
            ConstrainedBy();
            Expect(";");
            return [new NestedClass(nested, at)];
        }

        return Components(at, isProtected, isFinal, isReplaceable);
    }

    ImportClause Import(Position at)
    {
        string? alias = null;
        if (Peek().Text == "=")
        {
            alias = Identifier();
            Expect("=");
        }

        var name = DottedName();
        var all = false;
        if (Accept(".*"))
            all = true;
        else if (Accept("."))
        {
            Expect("*");
            all = true;
        }
        Description();
        Expect(";");
        return new ImportClause(name, alias, all, at);
    }

    List<Element> Components(Position at, bool isProtected, bool isFinal, bool isReplaceable)
    {
        var isFlow = false;
        var isStream = false;
        var variability = Variability.Continuous;
        var causality = Causality.None;
        while (true)
        {
            if (Accept("flow"))
                isFlow = true;
            else if (Accept("stream"))
                isStream = true;
            else if (Accept("parameter"))
                variability = Variability.Parameter;
            else if (Accept("constant"))
                variability = Variability.Constant;
            else if (Accept("discrete"))
                variability = Variability.Discrete;
            else if (Accept("input"))
                causality = Causality.Input;
            else if (Accept("output"))
                causality = Causality.Output;
            else
                break;
        }

        if (Current.Kind != TokenKind.Identifier)
            throw Unexpected("a declaration or 'equation'");
        var type = DottedName();
        var shared = At("[") ? Dimensions() : [];
        var declared = new List<Element>();
        do
        {
            var nameAt = Current.At;
            var name = Identifier("the name of the component");
            var dimensions = At("[") ? Dimensions() : [];
            var modification = ComponentModification();
            var condition = Accept("if") ? Expression() : null;
            ConstrainedBy();
            var description = Description();
            declared.Add(
                new ComponentDeclaration(type, name, nameAt)
                {
                    Variability = variability,
                    Causality = causality,
                    IsFlow = isFlow,
                    IsStream = isStream,
                    IsFinal = isFinal,
                    IsProtected = isProtected,
                    IsReplaceable = isReplaceable,
                    Dimensions = [.. dimensions, .. shared],
                    Modification = modification,
                    Condition = condition,
                    Description = description,
                    Annotation = At("annotation") ? Annotation() : null,
                }
            );
        } while (Accept(","));
        Expect(";");
        return declared;
    }

    List<Expression> Dimensions()
    {
        Expect("[");
        var dimensions = new List<Expression>();
        do
        {
            var at = Current.At;
            dimensions.Add(Accept(":") ? new WholeDimension(at) : Expression());
        } while (Accept(","));
        Expect("]");
        return dimensions;
    }

    Modification? ComponentModification()
    {
        var arguments = At("(") ? ModificationArguments() : null;
        if (At(":="))
            throw Unexpected("'='");
        if (Accept("="))
            return new Modification(arguments ?? [], Expression());
        return arguments is null ? null : new Modification(arguments, null);
    }

    List<ModificationArgument> ModificationArguments()
    {
        Expect("(");
        Enter();
        var arguments = new List<ModificationArgument>();
        if (!At(")"))
        {
            do
            {
                var at = Current.At;
                if (Accept("redeclare"))
                {
                    arguments.Add(Redeclaration(at));
                    continue;
                }

                Accept("replaceable");
                var each = Accept("each");
                var isFinal = Accept("final");
                var name = DottedName();
                var value = ComponentModification() ?? new Modification([], null);
                arguments.Add(new ModificationArgument(name, value, each, isFinal, at) { Description = Description() });
            } while (Accept(","));
        }

        Expect(")");
        Leave();
        return arguments;
    }

    /// <summary><c>redeclare Type name(…)</c> or <c>redeclare model Name = Other</c>, without what ends the argument.</summary>
    ModificationArgument Redeclaration(Position at)
    {
        var each = Accept("each");
        var isFinal = Accept("final");
        Accept("replaceable");
        if (AtClass)
        {
            var definition = Class();
            if (definition.Alias is not { } alias || alias.Dimensions.Count > 0)
                throw new LanguageException(
                    "unsupported",
                    "A class is redeclared as another name here.",
                    at,
                    $"Write 'redeclare model {definition.Name} = Other'."
                );
            return new ModificationArgument(definition.Name, new Modification(alias.Modification?.Arguments ?? [], null), each, isFinal, at)
            {
                Redeclared = alias.Base,
                RedeclaresClass = true,
            };
        }

        var type = DottedName();
        var name = Identifier("the name of the component to redeclare");
        var value = ComponentModification() ?? new Modification([], null);
        ConstrainedBy();
        return new ModificationArgument(name, value, each, isFinal, at) { Redeclared = type, Description = Description() };
    }

    /// <summary>The class that a replacement must fit; what does not fit is found when it is used.</summary>
    void ConstrainedBy()
    {
        if (!Accept("constrainedby"))
            return;
        DottedName();
        if (At("("))
            ModificationArguments();
    }
}
