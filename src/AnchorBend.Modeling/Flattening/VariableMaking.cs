using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Variables and the values of parameters.</summary>
sealed class VariableMaking(Elaborator flat, IReadOnlyDictionary<string, Expression> overrides)
{
    readonly FlatModel model = flat.Model;
    readonly WorkBudget budget = flat.Budget;

    /// <summary>Parameters that were to be set from outside and are not there.</summary>
    public IEnumerable<string> UnusedOverrides => overrides.Keys.Where(p => !usedOverrides.Contains(p));

    readonly HashSet<string> usedOverrides = [];

    public void MakeVariables(Member member, ScalarType type, IReadOnlyList<Expression> dimensions)
    {
        var declaration = member.Declaration;
        var path = member.Owner.PathOf(declaration.Name);
        var isParameter = declaration.Variability is Variability.Parameter or Variability.Constant;
        Value? bound = null;
        if (isParameter || dimensions.Any(d => d is WholeDimension))
            bound = BindingOf(member, path);
        if (type == ScalarType.String)
        {
            if (!isParameter)
                throw new LanguageException("type", "A string can only be a parameter or a constant.", declaration.At);
            if (bound is { Text: null })
                throw new LanguageException(
                    "type",
                    $"{declaration.Name} needs words in quotation marks, such as \"a\".",
                    member.Binding?.Modification.Binding?.At ?? declaration.At
                );
            member.Variable = bound ?? Value.OfString("");
            model.Words[path] = member.Variable.Text!;
            return;
        }

        member.Shape = Shape(dimensions, bound, member);
        var count = Value.CountOf(member.Shape);
        if (count < 0)
            throw new LanguageException("size", $"The array {declaration.Name} has a negative size.", declaration.At);
        // Before memory is taken for them; each counts by itself when it is made.
        if (count > WorkBudget.MostVariables)
            budget.Variables(count, path, declaration.At);
        if (bound is not null)
            bound = Fitted(bound, type, member);
        var role =
            isParameter ? VariableRole.Parameter
            : type != ScalarType.Real || declaration.Variability == Variability.Discrete ? VariableRole.Discrete
            : VariableRole.Continuous;
        var elements = new Term[count];
        for (var i = 0; i < count; i++)
        {
            var name = member.Shape.Length == 0 ? path : $"{path}[{string.Join(',', Instantiation.Subscripts(i, member.Shape))}]";
            var variable = flat.NewVariable(name, role, type, member.Owner.Path, member: member);
            if (isParameter)
                variable.Binding = bound?.Elements[i];
            variable.IsStructural = declaration.Variability == Variability.Constant;
            elements[i] = new VariableTerm(variable.Index);
        }

        member.Variable = new Value(type, member.Shape, elements) { Enumeration = member.EnumerationType?.Name };
        if (isParameter && bound is null)
        {
            var start = member.Attribute("start") is { } s
                ? Sliced(s, s.Scope.Binder.Bind(s.Modification.Binding!), member.Shape.Length)
                : null;
            for (var i = 0; i < count; i++)
                model.Variables[((VariableTerm)elements[i]).Index].Binding = start is null
                    ? Term.Of(type == ScalarType.Enumeration ? 1 : 0)
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

        if (member.Binding is not { } modifier)
            return null;
        var expression = modifier.Modification.Binding!;
        try
        {
            var value = OwnChoice(member, expression) ?? modifier.Scope.Binder.Bind(expression);
            foreach (var term in value.Elements)
                RequireParameters(term, expression.At, path, member);
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
        if (
            member.EnumerationType is not { Enumeration: { } literals } type
            || expression is not Reference { Parts.Count: 2 } r
            || r.Parts[0].Name != type.Name
        )
            return null;
        for (var i = 0; i < literals.Count; i++)
            if (literals[i].Name == r.Parts[1].Name)
                return Value.Scalar(ScalarType.Enumeration, Term.Of(i + 1)) with { Enumeration = type.Name };
        return null;
    }

    void RequireParameters(Term term, Position at, string path, Member member)
    {
        if (member.Declaration.Variability is not (Variability.Parameter or Variability.Constant))
            return;
        if (TermBuilder.Any(term, t => t is DelayTerm or PreviousTerm))
            throw new LanguageException("variability", $"The parameter {path} cannot depend on the past of a signal.", at);
        TermBuilder.VisitVariables(term, i =>
        {
            if (model.Variables[i].Role != VariableRole.Parameter)
                throw new LanguageException(
                    "variability",
                    $"The parameter {path} cannot depend on '{model.NameOf(i)}', which changes during the run.",
                    at
                );
        });
    }

    /// <summary>A quantity typed with a unit, in SI, expressed in the unit the variable is declared in.</summary>
    public Value ToDeclaredUnit(Member member, Expression expression, Value value)
    {
        if (expression is not Quantity quantity)
            return value;
        var declared = DeclaredUnit(member);
        if (declared is null)
            return value;
        if (!quantity.Unit.Fits(declared))
            throw new LanguageException(
                "unit",
                $"{member.Declaration.Name} is given in {Unit.Pretty(quantity.Unit.Symbol)}, which is no unit of this quantity: "
                    + $"{UnitAdvice(declared)}.",
                expression.At
            )
            {
                Data = { ["part"] = member.Owner.Path, ["item"] = member.Declaration.Name },
            };
        var (scale, shift) = quantity.Unit.ConversionTo(declared);
        var raw = member.Owner.Scope.Binder; // the quantity's own number, before conversion to SI
        var number = (member.Binding?.Scope.Binder ?? raw).Bind(quantity.Value);
        return number with
        {
            Type = ScalarType.Real,
            Elements = [.. number.Elements.Select(t => TermBuilder.Add(TermBuilder.Multiply(t, Term.Of(scale)), Term.Of(shift)))],
        };
    }

    static string UnitAdvice(Unit declared) =>
        declared.Dimension.IsNone && declared.Angle == 0
            ? "a plain number is needed"
            : $"a value in {Unit.Pretty(declared.Symbol)} or another unit of its kind is needed";

    public Unit? DeclaredUnit(Member member)
    {
        if (member.Attribute("unit")?.Modification.Binding is not StringLiteral literal || literal.Value.Length == 0)
            return null;
        if (Unit.TryParse(literal.Value, out var unit, out var problem))
            return unit;
        throw new LanguageException(
            "unit",
            problem,
            literal.At,
            UnitTable.Closest(literal.Value) is { } near ? $"Did you mean {near}?" : null
        );
    }

    /// <summary>The element of an array modification that belongs to one part of an array of parts.</summary>
    public static Value Sliced(Modifier modifier, Value value, int wanted)
    {
        if (modifier.Index.Length == 0 || value.Shape.Length < modifier.Index.Length + wanted || value.Text is not null)
            return value;
        var start = 0;
        var stride = value.Elements.Length;
        for (var d = 0; d < modifier.Index.Length; d++)
        {
            stride /= Math.Max(1, value.Shape[d]);
            start += (modifier.Index[d] - 1) * stride;
        }

        return value with
        {
            Shape = value.Shape[modifier.Index.Length..],
            Elements = value.Elements[start..(start + stride)],
        };
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
                throw new LanguageException(
                    "size",
                    $"The size of {member.Declaration.Name} is open and no value fixes it.",
                    member.Declaration.At,
                    "Give a value such as {1, 2}."
                );
            shape[d] = bound.Shape[d];
        }

        return shape;
    }

    public static Value Fitted(Value value, ScalarType type, Member member)
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
                ScalarType.Integer => "a whole number",
                ScalarType.Boolean => "true or false",
                ScalarType.Enumeration => "one of "
                    + string.Join(", ", member.EnumerationType!.Enumeration!.Select(l => $"{member.EnumerationType.Name}.{l.Name}")),
                _ => "a number",
            };
            throw new LanguageException("type", $"{declaration.Name} needs {wanted}.", at);
        }

        if (value.Shape.AsSpan().SequenceEqual(member.Shape))
            return value;
        throw new LanguageException(
            "shape",
            $"{declaration.Name} is {Value.ShapeText(member.Shape)}, but its value is {Value.ShapeText(value.Shape)}.",
            at
        );
    }
}
