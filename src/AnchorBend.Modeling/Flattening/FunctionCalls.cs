using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Calls of functions, and constants of packages (chapter 12).</summary>
sealed class FunctionCalls(Elaborator flat)
{
    readonly FlatModel model = flat.Model;
    readonly WorkBudget budget = flat.Budget;

    const int MaximumCallDepth = 100;

    int callDepth;

    /// <summary>The results of a function, made of its statements; arrays in the place of scalar inputs give arrays (section
    /// 12.4.6).</summary>
    public IReadOnlyList<Value> Call(
        LexicalClass function,
        IScope caller,
        IReadOnlyList<Value> arguments,
        IReadOnlyList<(string Name, Value Value)> named,
        Position at
    )
    {
        budget.FunctionCall(function.Definition.Name, at);
        if (++callDepth > MaximumCallDepth)
            throw new LanguageException("recursion", $"{function.Definition.Name} calls itself more than {MaximumCallDepth} times.", at);
        try
        {
            var inputs = function.Definition.Components.Where(c => c.Causality == Causality.Input).ToList();
            bool IsSpread(Value value, ComponentDeclaration? input) => input is { Dimensions.Count: 0 } && value.Shape.Length > 0;
            var spread = arguments
                .Where((a, i) => IsSpread(a, inputs.ElementAtOrDefault(i)))
                .Concat(named.Where(n => IsSpread(n.Value, inputs.Find(i => i.Name == n.Name))).Select(n => n.Value))
                .ToList();
            if (spread.Count == 0)
                return new FunctionExpansion(flat, function, caller).Call(arguments, named, at);
            foreach (var value in spread)
                Binder.SameShape(spread[0], value, at);
            Value Element(Value value, ComponentDeclaration? input, int k) =>
                IsSpread(value, input) ? value with { Shape = [], Elements = [value.Elements[k]] } : value;
            var results = Enumerable
                .Range(0, spread[0].Elements.Length)
                .Select(k =>
                    new FunctionExpansion(flat, function, caller).Call(
                        [.. arguments.Select((a, i) => Element(a, inputs.ElementAtOrDefault(i), k))],
                        [.. named.Select(n => (n.Name, Element(n.Value, inputs.Find(i => i.Name == n.Name), k)))],
                        at
                    )[0]
                )
                .ToList();
            if (results.Count == 0)
                return [new Value(ScalarType.Real, [.. spread[0].Shape], [])];
            return
            [
                results[0] with
                {
                    Shape = [.. spread[0].Shape, .. results[0].Shape],
                    Elements = [.. results.SelectMany(r => r.Elements)],
                },
            ];
        }
        finally
        {
            callDepth--;
        }
    }

    /// <summary>A variable that equals a term: a parameter where the term is made of parameters, discrete where it changes at events
    /// only.</summary>
    public Term AuxiliaryOf(Term term, Instance instance, Position at)
    {
        bool Reads(VariableRole role) => TermBuilder.Any(term, t => t is VariableTerm v && model.Variables[v.Index].Role == role);
        var atEvents = TermBuilder.Any(term, t => t is PreviousTerm) || !Reads(VariableRole.Continuous) && Reads(VariableRole.Discrete);
        var role =
            atEvents ? VariableRole.Discrete
            : TermBuilder.Any(term, t => t is DelayTerm) || Reads(VariableRole.Continuous) || Reads(VariableRole.External)
                ? VariableRole.Continuous
            : VariableRole.Parameter;
        var variable = flat.NewVariable(flat.AuxiliaryName(instance.Path, "part"), role, ScalarType.Real, instance.Path);
        if (role == VariableRole.Parameter)
            variable.Binding = term;
        else
            model.Equations.Add(new FlatEquation(new VariableTerm(variable.Index), term, instance.Path, at));
        return new VariableTerm(variable.Index);
    }

    /// <summary>The value of a package's constant, whose expression sees the package's names.</summary>
    public Value ConstantIn(LexicalClass package, Expression binding)
    {
        if (++callDepth > MaximumCallDepth)
            throw new LanguageException("cycle", "The value of this constant depends on itself.", binding.At);
        try
        {
            return ScopeOf(package).Binder.Bind(binding);
        }
        finally
        {
            callDepth--;
        }
    }

    /// <summary>A constant or a choice seen from a class, not from an instance of it; null when there is none.</summary>
    public Value? ConstantFrom(LexicalClass from, Reference reference)
    {
        var scope = ScopeOf(from);
        try
        {
            return scope.Resolve(reference, (e, _) => scope.Binder.Bind(e));
        }
        catch (LanguageException e) when (e.Error.Code == "unknown-name")
        {
            return null;
        }
    }

    InstanceScope ScopeOf(LexicalClass type) => new(flat, new Instance("", type));
}
