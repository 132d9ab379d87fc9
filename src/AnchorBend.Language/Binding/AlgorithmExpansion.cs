using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using static AnchorBend.Language.Terms.TermBuilder;

namespace AnchorBend.Language.Binding;

/// <summary>What an algorithm may do besides assigning, at the place where it stands.</summary>
public interface IAlgorithmPlace
{
    /// <summary>The value a variable has before the algorithm assigns it, itself where it never does; null where reading it then is a
    /// mistake.</summary>
    Term? Initial(int variable);

    string NameOf(int variable);

    /// <summary>When a when-statement with this condition fires; refused in functions.</summary>
    Term Fires(Value condition, Position at);

    /// <summary>Notes that a when-statement assigns the variable, so that it changes at events only.</summary>
    void AssignedAtEvents(int variable, Position at);

    /// <summary>A call that stands as a statement, made where <paramref name="path"/> holds.</summary>
    void Perform(Call call, Binder binder, Term path, bool atEvent);
}

/// <summary>
/// Runs the statements of an algorithm or a function on terms instead of numbers, so that each assigned variable ends with one term
/// (Modelica Language Specification 3.6, chapters 11 and 12): branches become conditional terms, loops are unrolled. Terms that grow
/// get a variable of their own, so that the size of the result is linear in the statements run.
/// </summary>
public sealed class AlgorithmExpansion
{
    /// <summary>More statements than this are refused; a loop that never ends is noticed by it.</summary>
    public const int MaximumStatements = 100_000;

    const int MaximumTermSize = 150;
    const int Returned = int.MinValue;

    readonly WorkBudget budget = WorkBudget.Current;
    readonly Binder binder;
    readonly IScope scope;
    readonly IAlgorithmPlace place;
    Dictionary<int, Term> assigned;
    Term path = Term.One;
    int loops;
    int statements;
    bool atEvent;

    /// <param name="binder">Binds the expressions; reads what has been assigned so far.</param>
    /// <param name="given">Values to start with, by variable index.</param>
    public AlgorithmExpansion(Binder binder, IScope scope, IAlgorithmPlace place, IReadOnlyDictionary<int, Term>? given = null)
    {
        (this.binder, this.scope, this.place) = (binder, scope, place);
        assigned = given is null ? [] : new Dictionary<int, Term>(given);
        binder.Assigned = Present;
    }

    /// <summary>What each assigned variable holds now.</summary>
    public IEnumerable<KeyValuePair<int, Term>> Results => assigned.Where(a => !IsFlag(a.Key));

    /// <summary>The term a variable holds now.</summary>
    public Term Present(int variable) =>
        assigned.TryGetValue(variable, out var term)
            ? term
            : place.Initial(variable)
                ?? throw new LanguageException("algorithm", $"'{place.NameOf(variable)}' is read before it has a value.", default);

    static bool IsFlag(int key) => key < int.MinValue + 1_000;

    int LoopFlag => Returned + loops;

    Term Flag(int key) => assigned.GetValueOrDefault(key, Term.Zero);

    public void Run(IReadOnlyList<Statement> body)
    {
        foreach (var statement in body)
        {
            var left = loops > 0 ? Or(Flag(Returned), Flag(LoopFlag)) : Flag(Returned);
            if (left is ConstantTerm { Value: not 0 })
                return;
            if (++statements > MaximumStatements)
                throw new LanguageException(
                    "algorithm",
                    $"More than {MaximumStatements} statements are run here.",
                    statement.At,
                    "Check that the loop ends."
                );
            budget.Values(1, statement.At);
            if (left is ConstantTerm)
                Run(statement);
            else
                Branch(Not(left), () => Run(statement), () => { });
        }
    }

    void Run(Statement statement)
    {
        switch (statement)
        {
            case AssignStatement a:
                Assign(a.Target, binder.Bind(a.Value), a.At);
                break;
            case AssignManyStatement many:
                var results = binder.CallAll(many.Call);
                if (many.Targets.Count > results.Count)
                    throw new LanguageException(
                        "call",
                        $"{many.Call.Function} has {results.Count} result{(results.Count == 1 ? "" : "s")}, not {many.Targets.Count}.",
                        many.At
                    );
                for (var i = 0; i < many.Targets.Count; i++)
                    if (many.Targets[i] is { } target)
                        Assign(target, results[i], many.At);
                break;
            case IfStatement choice:
                Choose(choice.Branches, 0, choice.Otherwise);
                break;
            case ForStatement loop:
                InLoop(() => Repeat(loop, 0));
                break;
            case WhileStatement loop:
                InLoop(() => While(loop));
                break;
            case WhenStatement clause:
                When(clause);
                break;
            case BreakStatement:
                if (loops == 0)
                    throw new LanguageException("algorithm", "'break' leaves a loop and stands inside one.", statement.At);
                assigned[LoopFlag] = Term.One;
                break;
            case ReturnStatement:
                assigned[Returned] = Term.One;
                break;
            case CallStatement call:
                place.Perform(call.Call, binder, path, atEvent);
                break;
            default:
                throw new InvalidOperationException($"unknown statement {statement.GetType().Name}");
        }
    }

    /// <summary>The variables that an assignment gives the elements of a value to.</summary>
    /// <exception cref="LanguageException">It cannot be assigned to them.</exception>
    internal static Value Places(Binder binder, Reference target, Value value, Position at)
    {
        var places = binder.Target(target);
        if (places.IsNumeric != value.IsNumeric || !places.IsNumeric && places.Type != value.Type)
            throw new LanguageException("type", $"'{target.Path}' cannot take a value of another type.", at);
        if (places.Type == ScalarType.Integer && value.Type == ScalarType.Real)
            throw new LanguageException("type", $"'{target.Path}' takes whole numbers only.", at, "Write integer(…).");
        Binder.SameShape(places, value, at);
        return places.Elements.All(e => e is VariableTerm)
            ? places
            : throw new LanguageException("syntax", "Only a variable can be assigned to.", at);
    }

    void Assign(Reference target, Value value, Position at)
    {
        var places = Places(binder, target, value, at);
        for (var i = 0; i < places.Elements.Length; i++)
        {
            var variable = ((VariableTerm)places.Elements[i]).Index;
            if (atEvent)
                place.AssignedAtEvents(variable, at);
            assigned[variable] = Small(value.Elements[i], at);
        }
    }

    Term Small(Term term, Position at)
    {
        var left = MaximumTermSize;
        return Exceeds(term, ref left) ? scope.Auxiliary(term, at) : term;
    }

    static bool Exceeds(Term term, ref int left)
    {
        if (--left < 0)
            return true;
        foreach (var operand in term.Operands)
            if (Exceeds(operand, ref left))
                return true;
        return false;
    }

    void Choose(
        IReadOnlyList<(Expression Condition, IReadOnlyList<Statement> Body)> branches,
        int index,
        IReadOnlyList<Statement> otherwise
    )
    {
        if (index == branches.Count)
        {
            Run(otherwise);
            return;
        }

        var condition = binder.Condition(branches[index].Condition);
        if (condition is ConstantTerm known)
        {
            if (known.Value != 0)
                Run(branches[index].Body);
            else
                Choose(branches, index + 1, otherwise);
            return;
        }

        var origin = binder.OriginOf(branches[index].Condition.At, OriginKind.Decision);
        Branch(condition, () => Run(branches[index].Body), () => Choose(branches, index + 1, otherwise), origin);
    }

    /// <summary>Runs both sides on the same start and joins what they assign.</summary>
    void Branch(Term condition, Action then, Action otherwise, Origin? origin = null)
    {
        // Both sides get all that was assigned so far.
        budget.Values(2 * assigned.Count, default);
        var before = assigned;
        var outer = path;
        assigned = new Dictionary<int, Term>(before);
        path = And(outer, condition);
        then();
        var first = assigned;
        assigned = new Dictionary<int, Term>(before);
        path = And(outer, Not(condition));
        otherwise();
        path = outer;
        foreach (var (key, a) in first)
        {
            var b = assigned.TryGetValue(key, out var other) ? other : Unassigned(key);
            if (!ReferenceEquals(a, b))
                assigned[key] = Small(TermBuilder.Conditional(condition, a, b, origin), default);
        }

        foreach (var (key, b) in assigned.Where(e => !first.ContainsKey(e.Key)).ToList())
            assigned[key] = Small(TermBuilder.Conditional(condition, Unassigned(key), b, origin), default);
    }

    Term Unassigned(int key) => IsFlag(key) ? Term.Zero : place.Initial(key) ?? Term.Zero;

    void InLoop(Action body)
    {
        loops++;
        var outer = assigned.GetValueOrDefault(LoopFlag);
        assigned[LoopFlag] = Term.Zero;
        body();
        if (outer is null)
            assigned.Remove(LoopFlag);
        else
            assigned[LoopFlag] = outer;
        loops--;
    }

    void Repeat(ForStatement loop, int level)
    {
        var (name, range) = loop.Iterators[level];
        var (values, integer) = binder.Range(range);
        foreach (var value in values)
        {
            binder.WithIterator(name, value, integer, () =>
            {
                if (level + 1 < loop.Iterators.Count)
                    Repeat(loop, level + 1);
                else
                    Run(loop.Body);
                return 0;
            });
            if (Or(Flag(Returned), Flag(LoopFlag)) is ConstantTerm { Value: not 0 })
                return;
        }
    }

    void While(WhileStatement loop)
    {
        while (true)
        {
            var condition = binder.Condition(loop.Condition);
            if (condition is not ConstantTerm)
            {
                try
                {
                    condition = Term.Of(scope.Constant(condition, loop.Condition.At));
                }
                catch (LanguageException e) when (e.Error.Code == "variability")
                {
                    throw new LanguageException(
                        "algorithm",
                        "The number of rounds of this loop changes during the run, so it cannot be unrolled.",
                        loop.At,
                        "Write 'for i in 1:n loop' with the most rounds that can be needed, and leave it with 'if … then break; end if;'."
                    );
                }
            }

            if (condition.IsConstant(0))
                return;
            Run(loop.Body);
            if (Or(Flag(Returned), Flag(LoopFlag)) is ConstantTerm { Value: not 0 })
                return;
            if (++statements > MaximumStatements)
                throw new LanguageException(
                    "algorithm",
                    $"More than {MaximumStatements} rounds are made here.",
                    loop.At,
                    "Check that the loop ends."
                );
        }
    }

    void When(WhenStatement clause)
    {
        if (atEvent || path is not ConstantTerm || loops > 0)
            throw new LanguageException("when", "A when statement cannot stand inside an if, a loop or another when.", clause.At);
        Term earlier = Term.Zero;
        var fires = new List<Term>();
        foreach (var (condition, _) in clause.Branches)
        {
            var now = place.Fires(binder.Bind(condition), condition.At);
            fires.Add(And(now, Not(earlier)));
            earlier = Or(earlier, now);
        }

        atEvent = true;
        void Next(int index)
        {
            if (index < fires.Count)
                Branch(
                    fires[index],
                    () => Run(clause.Branches[index].Body),
                    () => Next(index + 1),
                    binder.OriginOf(clause.Branches[index].Condition.At, OriginKind.Clause)
                );
        }

        Next(0);
        atEvent = false;
    }
}
