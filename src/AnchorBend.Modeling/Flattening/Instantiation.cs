using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Instances, components and their attributes.</summary>
public sealed partial class Flattener
{
    const int MaximumInstanceDepth = 60;
    const int MaximumElements = 2_000_000;

    readonly HashSet<string> usedOverrides = [];

    Instance MakeInstance(string path, LexicalClass type, List<Modifier> modifiers)
    {
        var instance = new Instance(path, type);
        instance.Scope = new InstanceScope(this, instance);
        allInstances.Add(instance);
        AddElements(instance, type, modifiers, 0);
        foreach (var argument in modifiers.SelectMany(m => m.Modification.Arguments.Select(a => (a, m))))
        {
            var name = argument.a.Name.Split('.')[0];
            if (instance.Members.ContainsKey(name)) continue;
            findings.Add(new Finding(Severity.Error, "unknown-name", $"{type.Definition.Name} has no parameter '{name}'.", path, name, argument.a.At,
                Nearest.Of(name, instance.Members.Keys) is { } near ? $"Did you mean {near}?" : null));
        }

        return instance;
    }

    void AddElements(Instance instance, LexicalClass type, List<Modifier> modifiers, int level)
    {
        var definition = type.Definition;
        if (level > MaximumInstanceDepth) throw new LanguageException("recursion", $"{definition.Name} extends itself.", definition.At);
        instance.Inherited.Add(type);
        foreach (var element in definition.Elements)
        {
            if (element is ExtendsClause extends)
            {
                Guard(instance.Path, () =>
                {
                    var ancestor = FindClass(extends.Base, type) ?? throw UnknownClass(extends.Base, extends.At);
                    List<Modifier> merged = extends.Modification is null ? modifiers : [.. modifiers, new Modifier(extends.Modification, instance.Scope, [])];
                    AddElements(instance, ancestor, merged, level + 1);
                });
            }
            else if (element is ComponentDeclaration component)
            {
                var own = modifiers.SelectMany(m => m.For(component.Name)).ToList();
                if (component.Modification is not null)
                {
                    if (component.IsFinal) own.Clear();
                    own.Add(new Modifier(component.Modification, instance.Scope, []));
                }

                var member = new Member(instance, component, type, own);
                if (!instance.Members.TryAdd(component.Name, member))
                {
                    findings.Add(new Finding(Severity.Error, "duplicate-name", $"The name '{component.Name}' is declared twice.", instance.Path, component.Name, component.At));
                    continue;
                }

                allMembers.Add(member);
            }
        }

        foreach (var equation in definition.Equations) instance.Equations.Add((equation, false));
        foreach (var equation in definition.InitialEquations) instance.Equations.Add((equation, true));
    }

    LanguageException UnknownClass(string name, Position at) => new("unknown-class", $"There is no part or type '{name}'.", at,
        Nearest.Of(name, classes.Names.Append("Real").Append("Integer").Append("Boolean")) is { } near ? $"Did you mean {near}?" : null);

    /// <summary>Makes a member's variables or instances; safe to call again.</summary>
    internal void Ensure(Member member)
    {
        if (member.IsMade) return;
        var declaration = member.Declaration;
        if (member.IsBeingMade)
            throw new LanguageException("cycle", $"The value of '{member.Owner.PathOf(declaration.Name)}' depends on itself.", declaration.At);
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
            member.IsPresent = ConstantValue(condition, declaration.Condition.At) != 0;
            if (!member.IsPresent) return;
        }

        var typeName = declaration.TypeName;
        IReadOnlyList<Expression> extra = [];
        for (var hop = 0; ; hop++)
        {
            if (Primitive(typeName) is { } type)
            {
                MakeVariables(member, type, [.. declaration.Dimensions, .. extra]);
                return;
            }

            var found = FindClass(typeName, member.WrittenIn, member.Owner) ?? throw UnknownClass(typeName, declaration.At);
            if (found.Definition.Enumeration is not null)
            {
                member.EnumerationType = found.Definition;
                MakeVariables(member, ScalarType.Enumeration, [.. declaration.Dimensions, .. extra]);
                return;
            }

            if (found.Definition.Alias is not { } alias)
            {
                if (found.Definition.IsPartial)
                    throw new LanguageException("partial", $"{found.Definition.Name} is partial: it is a base for parts, not a part.", declaration.At);
                MakeParts(member, found);
                return;
            }

            if (hop > 20) throw new LanguageException("recursion", $"The type {typeName} is defined by itself.", declaration.At);
            if (alias.Modification is not null) member.Modifiers.Add(new Modifier(alias.Modification, member.Owner.Scope, []));
            extra = [.. extra, .. alias.Dimensions];
            typeName = alias.Base;
        }
    }

    static ScalarType? Primitive(string name) => name switch
    {
        "Real" => ScalarType.Real, "Integer" => ScalarType.Integer, "Boolean" => ScalarType.Boolean, "String" => ScalarType.String, _ => null,
    };

    void MakeParts(Member member, LexicalClass type)
    {
        var declaration = member.Declaration;
        var binder = member.Owner.Scope.Binder;
        var path = member.Owner.PathOf(declaration.Name);
        member.Shape = [.. declaration.Dimensions.Select(binder.WholeNumber)];
        var total = member.Shape.Aggregate(1L, (a, b) => a * b);
        if (total is < 0 or > 100_000) throw new LanguageException("size", $"{total} parts in one array are too many.", declaration.At);
        if (depth >= MaximumInstanceDepth)
            throw new LanguageException("recursion", $"{type.Definition.Name} contains itself, directly or through its parts.", declaration.At);
        depth++;
        member.Parts = new Instance[total];
        for (var i = 0; i < total; i++)
        {
            var index = Subscripts(i, member.Shape);
            var modifiers = member.Modifiers.Select(m => m with { Index = [.. m.Index, .. index] }).ToList();
            var first = allMembers.Count;
            member.Parts[i] = MakeInstance(index.Length == 0 ? path : $"{path}[{string.Join(',', index)}]", type, modifiers);
            for (var k = first; k < allMembers.Count; k++)
            {
                var inner = allMembers[k];
                Guard(inner.Owner.Path, () => Ensure(inner), inner.Declaration.Name);
            }
        }

        depth--;
    }

    internal static int[] Subscripts(int flat, int[] shape)
    {
        var index = new int[shape.Length];
        for (var d = shape.Length - 1; d >= 0; d--)
        {
            index[d] = flat % shape[d] + 1;
            flat /= shape[d];
        }

        return index;
    }

    void MakeVariables(Member member, ScalarType type, IReadOnlyList<Expression> dimensions)
    {
        var declaration = member.Declaration;
        var path = member.Owner.PathOf(declaration.Name);
        var isParameter = declaration.Variability is Variability.Parameter or Variability.Constant;
        Value? bound = null;
        if (isParameter || dimensions.Any(d => d is WholeDimension)) bound = BindingOf(member, path);
        if (type == ScalarType.String)
        {
            if (!isParameter) throw new LanguageException("type", "A string can only be a parameter or a constant.", declaration.At);
            member.Variable = bound ?? Value.OfString("");
            return;
        }

        member.Shape = Shape(dimensions, bound, member);
        var count = member.Shape.Aggregate(1L, (a, b) => a * b);
        if (count < 0 || model.Variables.Count + count > MaximumElements)
            throw new LanguageException("size", $"The array {declaration.Name} is too large.", declaration.At);
        if (bound is not null) bound = Fitted(bound, type, member);
        var role = isParameter ? VariableRole.Parameter
            : type != ScalarType.Real || declaration.Variability == Variability.Discrete ? VariableRole.Discrete : VariableRole.Continuous;
        var elements = new Term[count];
        for (var i = 0; i < count; i++)
        {
            var name = member.Shape.Length == 0 ? path : $"{path}[{string.Join(',', Subscripts(i, member.Shape))}]";
            var variable = NewVariable(name, role, type, member.Owner.Path, member: member);
            if (isParameter) variable.Binding = bound?.Elements[i];
            variable.IsStructural = declaration.Variability == Variability.Constant;
            elements[i] = new VariableTerm(variable.Index);
        }

        member.Variable = new Value(type, member.Shape, elements) { Enumeration = member.EnumerationType?.Name };
        if (isParameter && bound is null)
        {
            var start = member.Attribute("start") is { } s ? Sliced(s, s.Scope.Binder.Bind(s.Modification.Binding!), member.Shape.Length) : null;
            for (var i = 0; i < count; i++)
                model.Variables[((VariableTerm)elements[i]).Index].Binding = start is null ? Term.Of(type == ScalarType.Enumeration ? 1 : 0)
                    : start.Elements[start.IsScalar ? 0 : i];
        }
    }

    Value? BindingOf(Member member, string path)
    {
        if (overrides.TryGetValue(path, out var replaced))
        {
            usedOverrides.Add(path);
            return OwnChoice(member, replaced) ?? ToDeclaredUnit(member, replaced, member.Owner.Scope.Binder.Bind(replaced));
        }

        if (member.Binding is not { } modifier) return null;
        var expression = modifier.Modification.Binding!;
        try
        {
            var value = OwnChoice(member, expression) ?? modifier.Scope.Binder.Bind(expression);
            foreach (var term in value.Elements) RequireParameters(term, expression.At, path, member);
            return ToDeclaredUnit(member, expression, Sliced(modifier, value, member.Declaration.Dimensions.Count));
        }
        catch (LanguageException e)
        {
            e.Data["part"] ??= member.Owner.Path;
            e.Data["item"] ??= member.Declaration.Name;
            throw;
        }
    }

    /// <summary>A choice of the parameter's own type, which may be written without the part's name in front: <c>Form.PI</c>.</summary>
    static Value? OwnChoice(Member member, Expression expression)
    {
        if (member.EnumerationType is not { Enumeration: { } literals } type || expression is not Reference { Parts.Count: 2 } r || r.Parts[0].Name != type.Name) return null;
        for (var i = 0; i < literals.Count; i++)
            if (literals[i].Name == r.Parts[1].Name) return Value.Scalar(ScalarType.Enumeration, Term.Of(i + 1)) with { Enumeration = type.Name };
        return null;
    }

    void RequireParameters(Term term, Position at, string path, Member member)
    {
        if (member.Declaration.Variability is not (Variability.Parameter or Variability.Constant)) return;
        TermBuilder.VisitVariables(term, i =>
        {
            if (model.Variables[i].Role != VariableRole.Parameter)
                throw new LanguageException("variability", $"The parameter {path} cannot depend on '{model.NameOf(i)}', which changes during the run.", at);
        });
    }

    /// <summary>A quantity typed with a unit, in SI, expressed in the unit the variable is declared in.</summary>
    Value ToDeclaredUnit(Member member, Expression expression, Value value)
    {
        if (expression is not Quantity quantity) return value;
        var declared = DeclaredUnit(member);
        if (declared is null) return value;
        if (!quantity.Unit.Fits(declared))
            throw new LanguageException("unit", $"{member.Declaration.Name} is given in {Unit.Pretty(quantity.Unit.Symbol)}, which is no unit of this quantity: {UnitAdvice(declared)}.", expression.At)
            { Data = { ["part"] = member.Owner.Path, ["item"] = member.Declaration.Name } };
        var (scale, shift) = quantity.Unit.ConversionTo(declared);
        var raw = member.Owner.Scope.Binder; // the quantity's own number, before conversion to SI
        var number = (member.Binding?.Scope.Binder ?? raw).Bind(quantity.Value);
        return number with { Type = ScalarType.Real, Elements = [.. number.Elements.Select(t => TermBuilder.Add(TermBuilder.Multiply(t, Term.Of(scale)), Term.Of(shift)))] };
    }

    static string UnitAdvice(Unit declared) => declared.Dimension.IsNone && declared.Angle == 0 ? "a plain number is needed"
        : $"a value in {Unit.Pretty(declared.Symbol)} or another unit of its kind is needed";

    Unit? DeclaredUnit(Member member)
    {
        if (member.Attribute("unit")?.Modification.Binding is not StringLiteral literal || literal.Value.Length == 0) return null;
        if (Unit.TryParse(literal.Value, out var unit, out var problem)) return unit;
        throw new LanguageException("unit", problem, literal.At, UnitTable.Closest(literal.Value) is { } near ? $"Did you mean {near}?" : null);
    }

    /// <summary>The element of an array modification that belongs to one part of an array of parts.</summary>
    static Value Sliced(Modifier modifier, Value value, int wanted)
    {
        if (modifier.Index.Length == 0 || value.Shape.Length < modifier.Index.Length + wanted || value.Text is not null) return value;
        var start = 0;
        var stride = value.Elements.Length;
        for (var d = 0; d < modifier.Index.Length; d++)
        {
            stride /= Math.Max(1, value.Shape[d]);
            start += (modifier.Index[d] - 1) * stride;
        }

        return value with { Shape = value.Shape[modifier.Index.Length..], Elements = value.Elements[start..(start + stride)] };
    }

    int[] Shape(IReadOnlyList<Expression> dimensions, Value? bound, Member member)
    {
        var shape = new int[dimensions.Count];
        for (var d = 0; d < shape.Length; d++)
        {
            if (dimensions[d] is not WholeDimension)
            {
                shape[d] = member.Owner.Scope.Binder.WholeNumber(dimensions[d]);
                continue;
            }

            if (bound is null || bound.Shape.Length <= d)
                throw new LanguageException("size", $"The size of {member.Declaration.Name} is open and no value fixes it.", member.Declaration.At, "Give a value such as {1, 2}.");
            shape[d] = bound.Shape[d];
        }

        return shape;
    }

    static Value Fitted(Value value, ScalarType type, Member member)
    {
        var declaration = member.Declaration;
        var compatible = type switch
        {
            ScalarType.Real => value.IsNumeric,
            ScalarType.Enumeration => value.Type == ScalarType.Enumeration && value.Enumeration == member.EnumerationType?.Name,
            _ => value.Type == type,
        };
        var at = member.Binding?.Modification.Binding?.At ?? declaration.At;
        if (!compatible)
        {
            var wanted = type switch
            {
                ScalarType.Integer => "a whole number", ScalarType.Boolean => "true or false",
                ScalarType.Enumeration => $"one of {string.Join(", ", member.EnumerationType!.Enumeration!.Select(l => member.EnumerationType.Name + "." + l.Name))}", _ => "a number",
            };
            throw new LanguageException("type", $"{declaration.Name} needs {wanted}.", at);
        }

        if (value.Shape.AsSpan().SequenceEqual(member.Shape)) return value;
        throw new LanguageException("shape", $"{declaration.Name} is {Value.ShapeText(member.Shape)}, but its value is {Value.ShapeText(value.Shape)}.", at);
    }

    /// <summary>Start values, limits, units, and the equations of variables declared with a value.</summary>
    void BindAttributes(Member member)
    {
        if (member.Variable is not { Type: not ScalarType.String } value || !member.IsPresent) return;
        var unit = DeclaredUnit(member);
        var display = (member.Attribute("displayUnit")?.Modification.Binding as StringLiteral)?.Value;
        var isParameter = member.Declaration.Variability is Variability.Parameter or Variability.Constant;
        var start = isParameter ? null : AttributeValue(member, "start");
        var minimum = AttributeValue(member, "min");
        var maximum = AttributeValue(member, "max");
        var nominal = AttributeValue(member, "nominal");
        var isFixed = AttributeValue(member, "fixed");
        for (var i = 0; i < value.Elements.Length; i++)
        {
            var variable = model.Variables[((VariableTerm)value.Elements[i]).Index];
            variable.Unit = unit;
            variable.DisplayUnit = display;
            variable.Start = Element(start, i);
            variable.Minimum = Element(minimum, i);
            variable.Maximum = Element(maximum, i);
            variable.Nominal = Element(nominal, i);
            variable.IsFixed = Element(isFixed, i) is { } f && ConstantValue(f, member.Declaration.At) != 0;
            if (unit is null && member.Binding?.Modification.Binding is Quantity q)
            {
                variable.Unit = q.Unit.Coherent();
                variable.DisplayUnit ??= q.Unit.Symbol;
            }
        }

        if (isParameter) CheckLimits(member, value);
        else if (member.Binding is { } binding && member.Declaration.Causality != Causality.Input) AddBindingEquation(member, value, binding, _ => true);
    }

    static Term? Element(Value? value, int index) => value is null ? null : value.Elements[value.IsScalar ? 0 : index];

    Value? AttributeValue(Member member, string attribute)
    {
        if (member.Attribute(attribute) is not { } modifier) return null;
        var value = Sliced(modifier, modifier.Scope.Binder.Bind(modifier.Modification.Binding!), member.Shape.Length);
        if (!value.IsScalar && !value.Shape.AsSpan().SequenceEqual(member.Shape))
            throw new LanguageException("shape", $"{attribute} of {member.Declaration.Name} has the wrong size.", modifier.Modification.Binding!.At);
        return ToDeclaredUnit(member, modifier.Modification.Binding!, value);
    }

    void CheckLimits(Member member, Value value)
    {
        foreach (var element in value.Elements)
        {
            var variable = model.Variables[((VariableTerm)element).Index];
            if (variable.Minimum is null && variable.Maximum is null) continue;
            var number = Evaluate(element);
            var low = variable.Minimum is null ? double.NegativeInfinity : Evaluate(variable.Minimum);
            var high = variable.Maximum is null ? double.PositiveInfinity : Evaluate(variable.Maximum);
            if (number >= low && number <= high) continue;
            var limit = number < low ? $"at least {Format(low)}" : $"at most {Format(high)}";
            findings.Add(new Finding(Severity.Error, "limit", $"{member.Declaration.Name} is {Format(number)}, but must be {limit}{UnitSuffix(variable)}.",
                member.Owner.Path, member.Declaration.Name, member.Binding?.Modification.Binding?.At ?? member.Declaration.At));
        }
    }

    static string UnitSuffix(FlatVariable variable) => variable.Unit is null ? "" : " " + Unit.Pretty(variable.Unit.Symbol);

    static string Format(double value) => value.ToString("G6", System.Globalization.CultureInfo.InvariantCulture);

    /// <param name="wanted">Which elements, by variable index, get an equation.</param>
    void AddBindingEquation(Member member, Value value, Modifier binding, Func<int, bool> wanted)
    {
        var expression = binding.Modification.Binding!;
        // An expression part's own inputs stand in its formula, so the formula is read inside the part.
        var binder = IsFormula(member) ? new Binder(new FormulaScope(member.Owner.Scope, binding.Scope)) : binding.Scope.Binder;
        var right = ToDeclaredUnit(member, expression, Sliced(binding, binder.Bind(expression), member.Shape.Length));
        right = Fitted(right, value.Type, member);
        for (var i = 0; i < value.Elements.Length; i++)
            if (wanted(((VariableTerm)value.Elements[i]).Index))
                model.Equations.Add(new FlatEquation(value.Elements[i], right.Elements[i], member.Owner.Path, expression.At));
    }

    static bool IsFormula(Member member) =>
        member.Declaration.Annotation?.Argument("__AnchorBend")?.Value.Argument("formula")?.Value.Binding is BooleanLiteral { Value: true };

    /// <summary>The value of a term of parameters; what it reads becomes structural.</summary>
    internal double ConstantValue(Term term, Position at)
    {
        MarkStructural(term, at);
        return Evaluate(term);
    }

    void MarkStructural(Term term, Position at) => TermBuilder.VisitVariables(term, i =>
    {
        var variable = model.Variables[i];
        if (variable.Role != VariableRole.Parameter)
            throw new LanguageException("variability", $"A value known before the run is needed here, but '{variable.Name}' changes during it.", at);
        if (variable.IsStructural) return;
        variable.IsStructural = true;
        if (variable.Binding is not null) MarkStructural(variable.Binding, at);
    });

    double Evaluate(Term term) => new TermEvaluator(i => model.Variables[i] is { Role: VariableRole.Parameter, Binding: { } binding } ? Evaluate(binding) : 0).Evaluate(term);
}
