using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using static AnchorBend.Language.Terms.TermBuilder;

namespace AnchorBend.Modeling.Flattening;

/// <summary>
/// When-clauses become equations of discrete variables (section 8.3.5): <c>v = if fires then new value else pre(v)</c>, with earlier
/// branches first.
/// </summary>
sealed class WhenExpansion(Elaborator flat)
{
    readonly FlatModel model = flat.Model;

    public void ExpandWhen(Instance instance, WhenEquation clause)
    {
        var binder = instance.Scope.Binder;
        var values = new Dictionary<int, Term>();
        var positions = new Dictionary<int, Position>();
        Term earlier = Term.Zero;
        var branches = new List<(Term Fires, IReadOnlyList<Equation> Body, Origin? Origin)>();
        foreach (var (condition, body) in clause.Branches)
        {
            var fires = Fires(instance, binder.Bind(condition), condition.At);
            branches.Add((And(fires, Not(earlier)), body, instance.Scope.OriginOf(condition.At, OriginKind.Clause)));
            earlier = Or(earlier, fires);
        }

        for (var b = branches.Count - 1; b >= 0; b--)
            Assign(instance, branches[b].Body, branches[b].Fires, values, positions, branches[b].Origin);
        foreach (var (index, value) in values)
            model.Equations.Add(new FlatEquation(new VariableTerm(index), value, instance.Path, positions[index]));
    }

    void Assign(
        Instance instance,
        IReadOnlyList<Equation> body,
        Term fires,
        Dictionary<int, Term> values,
        Dictionary<int, Position> positions,
        Origin? origin
    )
    {
        var binder = instance.Scope.Binder;
        foreach (var equation in body)
        {
            switch (equation)
            {
                case CallEquation { Call: { Function: "reinit" } call }:
                    AddReinit(instance, call, fires);
                    continue;
                case CallEquation { Call.Function: "assert" }:
                    continue;
                case IfEquation choice:
                    var rest = fires;
                    foreach (var (condition, inner) in choice.Branches)
                    {
                        var holds = binder.Condition(condition);
                        Assign(instance, inner, And(rest, holds), values, positions, null);
                        rest = And(rest, Not(holds));
                    }

                    Assign(instance, choice.Otherwise, rest, values, positions, null);
                    continue;
                case ForEquation loop:
                    flat.Equations.Loop(binder, loop, 0, () => Assign(instance, loop.Body, fires, values, positions, origin));
                    continue;
                case EqualEquation:
                    break;
                default:
                    throw new LanguageException("syntax", "This cannot stand inside a when clause.", equation.At);
            }

            foreach (var (left, right, at) in flat.Equations.Scalars(binder, equation))
            {
                if (left is not VariableTerm v)
                    throw new LanguageException(
                        "when",
                        "Inside a when clause the left side must be a variable.",
                        at,
                        "Write 'v = expression'."
                    );
                var variable = model.Variables[v.Index];
                if (variable.Role is VariableRole.Parameter or VariableRole.External)
                    throw new LanguageException("when", $"'{variable.Name}' cannot be set by a when clause.", at);
                if (variable.Derivative >= 0)
                    throw new LanguageException("when", $"'{variable.Name}' is a state.", at, $"Write reinit({variable.Name}, …).");
                variable.Role = VariableRole.Discrete;
                positions[v.Index] = at;
                values[v.Index] = Conditional(
                    fires,
                    right,
                    values.TryGetValue(v.Index, out var later) ? later : new PreviousTerm(v.Index),
                    origin
                );
            }
        }
    }

    public void AddReinit(Instance instance, Call call, Term fires)
    {
        var binder = instance.Scope.Binder;
        if (call.Arguments.Count != 2)
            throw new LanguageException("call", "reinit takes a state and its new value.", call.At);
        var states = binder.Bind(call.Arguments[0]);
        var news = binder.Bind(call.Arguments[1]);
        Binder.SameShape(states, news, call.At);
        for (var i = 0; i < states.Elements.Length; i++)
        {
            if (states.Elements[i] is not VariableTerm v)
                throw new LanguageException("call", "reinit needs the name of a state.", call.At);
            flat.DerivativeOf(v.Index, call.At);
            model.Reinits.Add(new FlatReinit(fires, v.Index, news.Elements[i], instance.Path, call.At));
        }
    }

    /// <summary>True at the event at which a condition (or one of several) becomes true; never at the start, except for
    /// initial().</summary>
    public Term Fires(Instance instance, Value condition, Position at)
    {
        if (condition.Type != ScalarType.Boolean || condition.Shape.Length > 1)
            throw new LanguageException("type", "A when clause needs a condition.", at);
        Term any = Term.Zero;
        foreach (var element in condition.Elements)
        {
            if (element is VariableTerm v && model.Variables[v.Index].Role == VariableRole.External)
            {
                any = Or(any, element);
                continue;
            }

            var held =
                element is VariableTerm { Index: var known } && model.Variables[known].Role == VariableRole.Discrete
                    ? known
                    : instance.Scope.Discrete("when", _ => element, at);
            any = Or(any, And(And(new VariableTerm(held), Not(new PreviousTerm(held))), Not(new VariableTerm(FlatModel.InitialFlagIndex))));
        }

        return any;
    }
}
