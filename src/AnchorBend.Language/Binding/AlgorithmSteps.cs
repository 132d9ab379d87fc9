using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;

namespace AnchorBend.Language.Binding;

/// <summary>
/// Keeps the statements of an algorithm that acts at events only as the steps of a <see cref="Sequence"/>: what they set is in slots, what
/// they read from outside becomes operands (Modelica Language Specification 3.6, section 11.1).
/// </summary>
public sealed class AlgorithmSteps
{
    readonly WorkBudget budget = WorkBudget.Current;
    readonly Binder binder;
    readonly IAlgorithmPlace place;

    /// <summary>The slots of variables, in the order in which they were first set.</summary>
    readonly Dictionary<int, int> slotOf = [];
    readonly List<Term?> begins = [];
    readonly List<Term> operands = [];
    readonly Dictionary<string, int> operandOf = [];
    List<Step> steps = [];

    /// <summary>Slots that a step before may have set; the others hold what was before the event.</summary>
    HashSet<int> isSet = [];

    /// <summary>Something that steps do not do; the algorithm becomes terms instead.</summary>
    sealed class UnfitException : Exception;

    AlgorithmSteps(IScope scope, IAlgorithmPlace place)
    {
        this.place = place;
        binder = new Binder(new StepScope(scope, this)) { Assigned = Present };
    }

    /// <summary>A sequence with its operands, and the variable of each slot that has one.</summary>
    public sealed record Result(Sequence Sequence, Term[] Operands, IReadOnlyList<(int Variable, int Slot)> Targets);

    /// <summary>The steps of a body; null where it holds what steps do not do.</summary>
    /// <param name="targets">The variables that it sets.</param>
    public static Result? Of(IReadOnlyList<Statement> body, IReadOnlyCollection<int> targets, IScope scope, IAlgorithmPlace place)
    {
        if (!body.All(s => s is WhenStatement clause && clause.Branches.All(b => Fits(b.Body))))
            return null;
        var made = new AlgorithmSteps(scope, place);
        foreach (var target in targets)
        {
            made.slotOf[target] = made.begins.Count;
            made.begins.Add(new PreviousTerm(target));
        }

        try
        {
            // Bodies first, and the last conditions: what cannot be kept shows before anything is left in the model.
            var clauses = body.Cast<WhenStatement>().Select(c => (c, Before: made.isSet, Bodies: made.Bodies(c))).Reverse().ToList();
            var chosen = clauses.Select(c => made.When(c.c, c.Before, c.Bodies)).Reverse().ToList();
            made.steps.AddRange(chosen);
        }
        catch (UnfitException)
        {
            return null;
        }

        int[] initial = [.. made.begins.Select(b => b is null ? -1 : made.Operand(b).Number)];
        return new Result(new Sequence(made.steps, initial), [.. made.operands], [.. made.slotOf.Select(s => (s.Key, s.Value))]);
    }

    static bool Fits(IReadOnlyList<Statement> body) =>
        body.All(s =>
            s switch
            {
                AssignStatement => true,
                IfStatement choice => choice.Branches.All(b => Fits(b.Body)) && Fits(choice.Otherwise),
                ForStatement loop => Fits(loop.Body),
                _ => false,
            }
        );

    /// <summary>
    /// What a variable holds here. What no step before sets is named as what it was, so that a comparison of it is the one that is made
    /// outside of the steps.
    /// </summary>
    Term Present(int variable) =>
        !slotOf.TryGetValue(variable, out var slot) ? new VariableTerm(variable)
        : isSet.Contains(slot) ? new SlotTerm(slot)
        : new PreviousTerm(variable);

    /// <summary>The steps of each branch of a clause; only one of them runs.</summary>
    List<List<Step>> Bodies(WhenStatement clause)
    {
        var (before, after) = (isSet, new HashSet<int>(isSet));
        var bodies = new List<List<Step>>();
        foreach (var (_, body) in clause.Branches)
        {
            isSet = [.. before];
            bodies.Add(Block(body));
            after.UnionWith(isSet);
        }

        isSet = after;
        return bodies;
    }

    /// <param name="before">What is set when the conditions are asked.</param>
    ChoiceStep When(WhenStatement clause, HashSet<int> before, List<List<Step>> bodies)
    {
        isSet = before;
        var fires = new List<Term>();
        foreach (var (condition, _) in clause.Branches)
        {
            var value = binder.Bind(condition);
            // Whether a condition has come to hold is found by variables outside of the steps.
            if (value.Elements.Any(HoldsSlots))
                throw new UnfitException();
            fires.Add(Taken(place.Fires(value, condition.At)));
        }

        ChoiceStep? rest = null;
        for (var branch = fires.Count - 1; branch >= 0; branch--)
            rest = new ChoiceStep(fires[branch], bodies[branch], rest is null ? [] : [rest])
            {
                Origin = binder.OriginOf(clause.Branches[branch].Condition.At, OriginKind.Clause),
            };
        return rest!;
    }

    /// <summary>The steps of statements.</summary>
    List<Step> Block(IReadOnlyList<Statement> body)
    {
        var outer = steps;
        steps = [];
        foreach (var statement in body)
            Add(statement);
        var made = steps;
        steps = outer;
        return made;
    }

    void Add(Statement statement)
    {
        budget.Values(1, statement.At);
        switch (statement)
        {
            case AssignStatement a:
                Assign(a);
                return;
            case IfStatement choice:
                Choose(choice, 0);
                return;
            case ForStatement loop:
                Repeat(loop, 0);
                return;
            default:
                throw new UnfitException();
        }
    }

    void Assign(AssignStatement a)
    {
        var value = binder.Bind(a.Value);
        var places = AlgorithmExpansion.Places(binder, a.Target, value, a.At);
        // An array is set as a whole: its elements may read each other's values of before.
        var values = value.Elements.Select(Taken).ToArray();
        for (var i = 0; i < values.Length; i++)
            if (places.Elements.Length > 1 && values[i] is not ConstantTerm)
                values[i] = Kept(values[i]);
        for (var i = 0; i < values.Length; i++)
        {
            var variable = ((VariableTerm)places.Elements[i]).Index;
            place.AssignedAtEvents(variable, a.At);
            // What keeps its value needs no step.
            var slot = slotOf[variable];
            if (values[i] is SlotTerm same && same.Slot == slot || !isSet.Contains(slot) && IsBefore(values[i], variable))
                continue;
            steps.Add(new SetStep(slot, values[i]) { Origin = binder.OriginOf(a.At, OriginKind.Assignment) });
            isSet.Add(slot);
        }
    }

    bool IsBefore(Term value, int variable) =>
        value is OperandTerm { Number: var number } && operands[number] is PreviousTerm p && p.Index == variable;

    void Choose(IfStatement choice, int branch)
    {
        if (branch == choice.Branches.Count)
        {
            foreach (var statement in choice.Otherwise)
                Add(statement);
            return;
        }

        var condition = Taken(binder.Condition(choice.Branches[branch].Condition));
        if (condition is ConstantTerm known)
        {
            if (known.Value == 0)
                Choose(choice, branch + 1);
            else
                foreach (var statement in choice.Branches[branch].Body)
                    Add(statement);
            return;
        }

        var then = Block(choice.Branches[branch].Body);
        var outer = steps;
        steps = [];
        Choose(choice, branch + 1);
        var otherwise = steps;
        steps = outer;
        var origin = binder.OriginOf(choice.Branches[branch].Condition.At, OriginKind.Decision);
        steps.Add(new ChoiceStep(condition, then, otherwise) { Origin = origin });
    }

    void Repeat(ForStatement loop, int level)
    {
        var (name, range) = loop.Iterators[level];
        var (values, integer) = binder.Range(range);
        foreach (var value in values)
            binder.WithIterator(name, value, integer, () =>
            {
                if (level + 1 < loop.Iterators.Count)
                    Repeat(loop, level + 1);
                else
                    foreach (var statement in loop.Body)
                        Add(statement);
                return 0;
            });
    }

    /// <summary>A slot of its own that holds a value from here on.</summary>
    SlotTerm Kept(Term value)
    {
        var slot = begins.Count;
        begins.Add(null);
        steps.Add(new SetStep(slot, value));
        isSet.Add(slot);
        return new SlotTerm(slot);
    }

    OperandTerm Operand(Term term)
    {
        var key = term.Key;
        if (!operandOf.TryGetValue(key, out var number))
        {
            operandOf[key] = number = operands.Count;
            operands.Add(term);
        }

        return new OperandTerm(number);
    }

    static bool HoldsSlots(Term term) => TermBuilder.Any(term, t => t is SlotTerm);

    /// <summary>
    /// The same with what stands for values from outside replaced by operands. A relation of such values is an operand as a whole, so that
    /// it is decided with the others of its kind.
    /// </summary>
    Term Taken(Term term) =>
        term switch
        {
            ConstantTerm or SlotTerm or OperandTerm => term,
            VariableTerm or PreviousTerm => Operand(term),
            RelationTerm or TableTerm or CallTerm or DelayTerm when !HoldsSlots(term) => Operand(term),
            RelationTerm r => new RelationTerm(r.Kind, Taken(r.Left), Taken(r.Right), r.Origin),
            OperationTerm o when o.Operands.Length == 1 => new OperationTerm(o.Kind, Taken(o.Left)),
            OperationTerm o => new OperationTerm(o.Kind, Taken(o.Left), Taken(o.Right)) { Origin = o.Origin },
            ConditionalTerm c => new ConditionalTerm(Taken(c.Condition), Taken(c.Then), Taken(c.Otherwise), c.Origin),
            _ => throw new UnfitException(),
        };

    /// <summary>The place around, but for what would take present values of slots out of the steps.</summary>
    sealed class StepScope(IScope around, AlgorithmSteps steps) : IScope
    {
        public int InitialFlag => around.InitialFlag;

        public Value Resolve(Reference reference, Func<Expression, int?, Value> subscripts) => around.Resolve(reference, subscripts);

        public Term DerivativeOf(int variable, Position at) => around.DerivativeOf(variable, at);

        public double Constant(Term term, Position at) => HoldsSlots(term) ? throw new UnfitException() : around.Constant(term, at);

        public Term WithUnit(Term value, Units.Unit unit) => around.WithUnit(value, unit);

        // What slots hold changes at events only, so rounding it makes none.
        public bool ChangesDuringRun(Term term) => !HoldsSlots(term) && around.ChangesDuringRun(term);

        public Origin? OriginOf(Position at, OriginKind kind) => around.OriginOf(at, kind);

        public Term Auxiliary(Term term, Position at) => steps.Kept(steps.Taken(term));

        public int SampleClock(Term start, Term interval, Position at) => around.SampleClock(start, interval, at);

        public Term Delay(Term source, Term duration, Term? longest, Position at) =>
            HoldsSlots(source) || HoldsSlots(duration) ? throw new UnfitException() : around.Delay(source, duration, longest, at);

        public int Discrete(string name, Func<int, Term> equation, Position at) =>
            around.Discrete(name, i => equation(i) is var term && HoldsSlots(term) ? throw new UnfitException() : term, at);

        public IReadOnlyList<Value>? CallFunction(
            string name,
            IReadOnlyList<Value> arguments,
            IReadOnlyList<(string Name, Value Value)> named,
            Position at
        ) => around.CallFunction(name, arguments, named, at) is null ? null : throw new UnfitException();
    }
}
