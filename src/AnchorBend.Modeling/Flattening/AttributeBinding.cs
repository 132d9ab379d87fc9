using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Language.Units;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Start values, limits and units, and what is declared with an equation.</summary>
sealed class AttributeBinding(Elaborator flat)
{
    readonly FlatModel model = flat.Model;
    readonly List<Finding> findings = flat.Findings;

    /// <summary>Start values, limits, units, and the equations of variables declared with a value.</summary>
    public void BindAttributes(Member member)
    {
        if (member.Variable is not { Type: not ScalarType.String } value || !member.IsPresent)
            return;
        var unit = flat.Variables.DeclaredUnit(member);
        var display = (member.Attribute("displayUnit")?.Modification.Binding as StringLiteral)?.Value;
        var isParameter = member.Declaration.Variability is Variability.Parameter or Variability.Constant;
        var start = isParameter ? null : AttributeValue(member, "start");
        var minimum = AttributeValue(member, "min");
        var maximum = AttributeValue(member, "max");
        var nominal = AttributeValue(member, "nominal");
        var isFixed = AttributeValue(member, "fixed");
        var selection = Selection(member);
        var byDefault =
            member.Owner.Path.Length > 0 && (IsLeftAlone(member, "fixed") || IsWrittenSo(member, "fixed")) && IsLeftAlone(member, "start");
        for (var i = 0; i < value.Elements.Length; i++)
        {
            var variable = model.Variables[((VariableTerm)value.Elements[i]).Index];
            variable.Unit = unit;
            variable.DeclaresUnit = unit is not null;
            variable.DisplayUnit = display;
            variable.Start = Element(start, i);
            variable.Minimum = Element(minimum, i);
            variable.Maximum = Element(maximum, i);
            variable.Nominal = Element(nominal, i);
            variable.Selection = selection;
            variable.IsFixed = Element(isFixed, i) is { } f && flat.Values.ConstantValue(f, member.Declaration.At) != 0;
            variable.IsFixedByDefault = variable.IsFixed && byDefault;
            if (unit is null && member.Binding?.Modification.Binding is Quantity q)
            {
                variable.Unit = q.Unit.Coherent();
                variable.DisplayUnit ??= q.Unit.Symbol;
            }
        }

        if (isParameter)
            CheckLimits(member, value);
        else if (member.Binding is { } binding && member.Declaration.Causality != Causality.Input)
            AddBindingEquation(member, value, binding, _ => true);
    }

    /// <summary>Whether the part's class itself says an attribute outright.</summary>
    static bool IsWrittenSo(Member member, string attribute) =>
        member.Attribute(attribute) is { Modification.Binding: BooleanLiteral } modifier && modifier.Scope.Place == member.Owner;

    /// <summary>Whether an attribute is one of the part's own parameters, and this has the value that the part's class gives it.</summary>
    bool IsLeftAlone(Member member, string attribute)
    {
        var part = member.Owner;
        if (
            member.Attribute(attribute) is not { Modification.Binding: Reference { Parts: [var name] } } modifier
            || modifier.Scope.Place != part
        )
            return false;
        if (
            !part.Members.TryGetValue(name.Name, out var parameter)
            || parameter.Declaration.Variability != Variability.Parameter
            || parameter.Binding?.Scope.Place != part
        )
            return false;
        foreach (var element in parameter.Variable?.Elements ?? [])
            if (element is VariableTerm v)
                model.Variables[v.Index].DecidesDefaultStart = true;
        return true;
    }

    static StateSelection Selection(Member member)
    {
        if (member.Attribute("stateSelect")?.Modification.Binding is not { } expression)
            return StateSelection.Default;
        if (
            expression is Reference { Path: var path }
            && path.StartsWith("StateSelect.", StringComparison.Ordinal)
            && Enum.TryParse<StateSelection>(path[12..], true, out var selection)
        )
            return selection;
        throw new LanguageException(
            "call",
            "stateSelect must be one of StateSelect.never, avoid, default, prefer and always.",
            expression.At
        );
    }

    static Term? Element(Value? value, int index) => value is null ? null : value.Elements[value.IsScalar ? 0 : index];

    Value? AttributeValue(Member member, string attribute)
    {
        if (member.Attribute(attribute) is not { } modifier)
            return null;
        var value = VariableMaking.Sliced(modifier, modifier.Scope.Binder.Bind(modifier.Modification.Binding!), member.Shape.Length);
        if (value.Type == ScalarType.String)
            throw new LanguageException(
                "type",
                $"{attribute} of {member.Declaration.Name} needs a number, not a string.",
                modifier.Modification.Binding!.At
            );
        if (!value.IsScalar && !value.Shape.AsSpan().SequenceEqual(member.Shape))
            throw new LanguageException(
                "shape",
                $"{attribute} of {member.Declaration.Name} has the wrong size.",
                modifier.Modification.Binding!.At
            );
        foreach (var element in value.Elements)
            if (
                TermBuilder.Any(element, t =>
                    t is DelayTerm or PreviousTerm || t is VariableTerm v && model.Variables[v.Index].Role != VariableRole.Parameter
                )
            )
                throw new LanguageException(
                    "variability",
                    $"{attribute} of {member.Declaration.Name} must be known before the run.",
                    modifier.Modification.Binding!.At
                );
        return flat.Variables.ToDeclaredUnit(member, modifier.Modification.Binding!, value);
    }

    void CheckLimits(Member member, Value value)
    {
        foreach (var element in value.Elements)
        {
            var variable = model.Variables[((VariableTerm)element).Index];
            if (variable.Minimum is null && variable.Maximum is null)
                continue;
            var number = flat.Values.Evaluate(element);
            var low = variable.Minimum is null ? double.NegativeInfinity : flat.Values.Evaluate(variable.Minimum);
            var high = variable.Maximum is null ? double.PositiveInfinity : flat.Values.Evaluate(variable.Maximum);
            if (number >= low && number <= high)
                continue;
            var limit = number < low ? $"at least {Format(low)}" : $"at most {Format(high)}";
            findings.Add(
                new Finding(
                    Severity.Error,
                    "limit",
                    $"{member.Declaration.Name} is {Format(number)}, but must be {limit}{UnitSuffix(variable)}.",
                    member.Owner.Path,
                    member.Declaration.Name,
                    member.Binding?.Modification.Binding?.At ?? member.Declaration.At
                )
            );
        }
    }

    static string UnitSuffix(FlatVariable variable) => variable.Unit is null ? "" : " " + Unit.Pretty(variable.Unit.Symbol);

    static string Format(double value) => value.ToString("G6", System.Globalization.CultureInfo.InvariantCulture);

    /// <param name="wanted">Which elements, by variable index, get an equation.</param>
    public void AddBindingEquation(Member member, Value value, Modifier binding, Func<int, bool> wanted)
    {
        var expression = binding.Modification.Binding!;
        // An expression part's own inputs stand in its formula, so the formula is read inside the part.
        var binder = IsFormula(member) ? new Binder(new FormulaScope(member.Owner.Scope, binding.Scope)) : binding.Scope.Binder;
        var right = flat.Variables.ToDeclaredUnit(
            member,
            expression,
            VariableMaking.Sliced(binding, binder.Bind(expression), member.Shape.Length)
        );
        right = VariableMaking.Fitted(right, value.Type, member);
        for (var i = 0; i < value.Elements.Length; i++)
            if (wanted(((VariableTerm)value.Elements[i]).Index))
                model.Equations.Add(new FlatEquation(value.Elements[i], right.Elements[i], member.Owner.Path, expression.At));
    }

    static bool IsFormula(Member member) =>
        member.Declaration.Annotation?.Argument("__AnchorBend")?.Value.Argument("formula")?.Value.Binding is BooleanLiteral { Value: true };
}
