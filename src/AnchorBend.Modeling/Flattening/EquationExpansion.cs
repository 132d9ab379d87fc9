using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using static AnchorBend.Language.Terms.TermBuilder;

namespace AnchorBend.Modeling.Flattening;

/// <summary>Equations: arrays, loops and choices become scalar equations.</summary>
sealed class EquationExpansion(Elaborator flat)
{
    readonly FlatModel model = flat.Model;
    readonly WorkBudget budget = flat.Budget;

    public void Expand(Instance instance, Equation equation, bool initial)
    {
        var binder = instance.Scope.Binder;
        switch (equation)
        {
            case ConnectEquation connect:
                if (initial)
                    throw new LanguageException("syntax", "connect cannot stand in an initial equation.", equation.At);
                flat.Sets.Connect(instance, connect);
                return;
            case ForEquation loop:
                Loop(binder, loop, 0, () =>
                {
                    foreach (var inner in loop.Body)
                        Expand(instance, inner, initial);
                });
                return;
            case WhenEquation clause:
                if (initial)
                    throw new LanguageException("syntax", "when cannot stand in an initial equation.", equation.At);
                flat.Whens.ExpandWhen(instance, clause);
                return;
            case IfEquation choice when IsStructural(binder, choice):
                ExpandStructuralIf(instance, choice, initial);
                return;
            case CallEquation { Call.Function: "assert" } call:
                AddAssertion(instance, call.Call, binder, Term.One);
                return;
            case CallEquation { Call.Function: "Connections.root" or "Connections.branch" } call:
                flat.Networks.NoteNetwork(instance, call.Call);
                return;
            case CallEquation call:
                throw new LanguageException(
                    "call",
                    $"'{call.Call.Function}' cannot stand as an equation here.",
                    call.At,
                    call.Call.Function == "reinit" ? "reinit belongs into a when clause." : null
                );
        }

        foreach (var (left, right, at) in Scalars(binder, equation))
        {
            budget.Values(1, at);
            (initial ? model.InitialEquations : model.Equations).Add(new FlatEquation(left, right, instance.Path, at));
        }
    }

    public void Loop(Binder binder, ForEquation loop, int level, Action body)
    {
        var (name, range) = loop.Iterators[level];
        var (values, integer) = binder.Range(range);
        budget.Values(values.Length, loop.At);
        foreach (var value in values)
            binder.WithIterator(name, value, integer, () =>
            {
                if (level + 1 < loop.Iterators.Count)
                    Loop(binder, loop, level + 1, body);
                else
                    body();
                return 0;
            });
    }

    /// <summary>Whether all conditions are known before the run, so that a branch can be taken now.</summary>
    bool IsStructural(Binder binder, IfEquation choice) =>
        choice.Branches.All(b =>
            !Any(binder.Condition(b.Condition), t =>
                t is VariableTerm v && model.Variables[v.Index].Role != VariableRole.Parameter || t is DelayTerm or PreviousTerm
            )
        );

    void ExpandStructuralIf(Instance instance, IfEquation choice, bool initial)
    {
        var binder = instance.Scope.Binder;
        foreach (var (condition, body) in choice.Branches)
        {
            if (flat.Values.ConstantValue(binder.Condition(condition), condition.At) == 0)
                continue;
            foreach (var inner in body)
                Expand(instance, inner, initial);
            return;
        }

        foreach (var inner in choice.Otherwise)
            Expand(instance, inner, initial);
    }

    /// <summary>The scalar equations of an equation without connections and when-clauses.</summary>
    public List<(Term Left, Term Right, Position At)> Scalars(Binder binder, Equation equation)
    {
        var result = new List<(Term, Term, Position)>();
        switch (equation)
        {
            case EqualEquation { Left: TupleExpression tuple, Right: Call many }:
                var results = binder.CallAll(many);
                if (tuple.Elements.Count > results.Count)
                    throw new LanguageException(
                        "call",
                        $"{many.Function} has {results.Count} result{(results.Count == 1 ? "" : "s")}, not {tuple.Elements.Count}.",
                        many.At
                    );
                for (var k = 0; k < tuple.Elements.Count; k++)
                {
                    if (tuple.Elements[k] is not { } target)
                        continue;
                    var taken = binder.Bind(target);
                    Binder.SameShape(taken, results[k], target.At);
                    for (var i = 0; i < taken.Elements.Length; i++)
                        result.Add((taken.Elements[i], results[k].Elements[i], equation.At));
                }

                break;
            case EqualEquation { Left: Reference whole, Right: Reference other } records
                when RecordsOf(binder, whole, other) is { } members:
                foreach (var name in members)
                    result.AddRange(Scalars(binder, records with { Left = Member(whole, name), Right = Member(other, name) }));
                break;
            case EqualEquation equal:
                var left = binder.Bind(equal.Left);
                var right = binder.Bind(equal.Right);
                if (left.Type == ScalarType.String || right.Type == ScalarType.String)
                    throw new LanguageException("type", "Strings cannot stand in equations.", equation.At);
                if (
                    left.IsNumeric != right.IsNumeric
                    || (!left.IsNumeric && (left.Type != right.Type || left.Enumeration != right.Enumeration))
                )
                    throw new LanguageException(
                        "type",
                        "The two sides are of different types.",
                        equation.At,
                        left.Type == ScalarType.Boolean
                            ? "Turn a number into a condition with a comparison, as in x > 0.5."
                            : "Write 'if condition then 1 else 0' to turn a condition into a number."
                    );
                Binder.SameShape(left, right, equation.At);
                budget.Equations(left.Elements.Length, (binder.Place as InstanceScope)?.Place.Path ?? "", equation.At);
                for (var i = 0; i < left.Elements.Length; i++)
                    result.Add((left.Elements[i], right.Elements[i], equation.At));
                break;
            case ForEquation loop:
                Loop(binder, loop, 0, () =>
                {
                    foreach (var inner in loop.Body)
                        result.AddRange(Scalars(binder, inner));
                });
                break;
            case IfEquation choice:
                result.AddRange(MergeBranches(binder, choice));
                break;
            default:
                throw new LanguageException(
                    "syntax",
                    "Only equations can stand inside an if whose condition changes during the run.",
                    equation.At
                );
        }

        return result;
    }

    static Reference Member(Reference whole, string name) => whole with { Parts = [.. whole.Parts, new ReferencePart(name, [])] };

    /// <summary>The members of two records of one kind; null where the names stand for values.</summary>
    List<string>? RecordsOf(Binder binder, Reference left, Reference right)
    {
        if (
            binder.Place is not InstanceScope scope
            || flat.Sets.PartAt(scope.Place, left) is not [{ Type.Definition.Kind: ClassKind.Record } a]
            || flat.Sets.PartAt(scope.Place, right) is not [{ } b]
        )
            return null;
        var names = a.Members.Keys.ToList();
        return names.SequenceEqual(b.Members.Keys)
            ? names
            : throw new LanguageException("type", $"'{left.Path}' and '{right.Path}' are records of different kinds.", left.At);
    }

    /// <summary>Joins the branches equation by equation; each branch must have as many as the others (section 8.3.4).</summary>
    List<(Term, Term, Position)> MergeBranches(Binder binder, IfEquation choice)
    {
        var otherwise = choice.Otherwise.SelectMany(e => Scalars(binder, e)).ToList();
        for (var b = choice.Branches.Count - 1; b >= 0; b--)
        {
            var condition = binder.Condition(choice.Branches[b].Condition);
            var body = choice.Branches[b].Body.SelectMany(e => Scalars(binder, e)).ToList();
            if (body.Count != otherwise.Count)
                throw new LanguageException(
                    "balance",
                    $"The branches have {body.Count} and {otherwise.Count} equations; they must have as many each.",
                    choice.At
                );
            for (var i = 0; i < body.Count; i++)
            {
                var (l1, r1, at) = body[i];
                var (l2, r2, _) = otherwise[i];
                otherwise[i] =
                    l1 is VariableTerm v1 && l2 is VariableTerm v2 && v1.Index == v2.Index
                        ? (l1, Conditional(condition, r1, r2), at)
                        : (Conditional(condition, Subtract(l1, r1), Subtract(l2, r2)), Term.Zero, at);
            }
        }

        return otherwise;
    }

    public void AddAssertion(Instance instance, Call call, Binder binder, Term path)
    {
        if (call.Arguments.Count is < 2 or > 3)
            throw new LanguageException("call", "assert takes a condition and a text.", call.At);
        var message = binder.Bind(call.Arguments[1]).Text ?? "an assertion is violated";
        var warning = call.Arguments.Count == 3 && call.Arguments[2] is Reference { Path: "AssertionLevel.warning" };
        model.Assertions.Add(
            new FlatAssertion(Or(Not(path), binder.Condition(call.Arguments[0])), message, !warning, instance.Path, call.At)
        );
    }
}
