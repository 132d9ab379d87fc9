using AnchorBend.Compiler.Analysis;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>
/// Flat model → execution plan: aliases, matching, block-triangular order, tearing of loops, classes of blocks, events.
/// A pure function; what prevents a plan is told as findings.
/// </summary>
public sealed class Planner
{
    readonly FlatModel model;
    readonly List<Finding> findings = [];
    readonly int[] representative;
    readonly List<(Term Left, Term Right, string Owner, Position At)> equations;

    Planner(FlatModel model, List<(Term Left, Term Right, string Owner, Position At)> equations, int[] representative) =>
        (this.model, this.equations, this.representative) = (model, equations, representative);

    /// <param name="log">Is told what each pass has made; null for nobody.</param>
    /// <returns>The plan, or null with at least one error.</returns>
    public static (ExecutionPlan? Plan, IReadOnlyList<Finding> Findings) Plan(FlatModel model, PassLog? log = null)
    {
        var equations = new List<(Term Left, Term Right, string Owner, Position At)>();
        var representative = AliasElimination.Run(model, equations);
        log?.Equations("aliases", model, equations, representative);
        ZeroParameterElimination.Run(model, equations);
        log?.Equations("zero parameters", model, equations, representative);
        SingularMassMatrix.Run(model, equations);
        log?.Equations("mass matrix", model, equations, representative);
        var planner = new Planner(model, equations, representative);
        var states = model.Variables.Where(v => v.Derivative >= 0 && representative[v.Index] == v.Index).Select(v => v.Index).ToArray();
        var plan = planner.Run(states);
        if (plan is not null || !planner.mayBeHighIndex)
            return (plan, planner.findings);
        if (IndexReduction.Run(model, equations, representative) is not { } reduction)
            return (null, planner.findings);
        log?.Equations("index reduction", reduction.Model, reduction.Equations, reduction.Representative);
        var reduced = new ReducedModel(reduction, model);
        var (chosen, findings) = reduced.AtStart();
        return chosen is null && findings.Count == 0 ? (null, planner.findings) : (chosen, findings);
    }

    /// <summary>A plan for chosen states of a reduced model.</summary>
    internal static (ExecutionPlan? Plan, List<Finding> Findings) Plan(IndexReduction reduction, ReducedModel reduced, int[] dummies)
    {
        var planner = new Planner(reduction.Model, [.. reduction.Equations], reduction.Representative);
        var isDummy = dummies.ToHashSet();
        var states = reduction
            .Model.Variables.Where(v =>
                v.Derivative >= 0 && reduction.Representative[v.Index] == v.Index && !isDummy.Contains(v.Derivative)
            )
            .Select(v => v.Index)
            .ToArray();
        // Nothing would compute the derivative of a state that is a state itself.
        if (states.FirstOrDefault(s => states.Contains(reduction.Model.Variables[s].Derivative), -1) is >= 0 and var tied)
        {
            var variable = reduction.Model.Variables[tied];
            planner.findings.Add(
                new Finding(
                    Severity.Error,
                    HighIndex,
                    $"The constraints leave '{variable.Name}' and its derivative free together, but nothing in the model says how "
                        + $"the derivative moves.",
                    variable.Owner,
                    variable.Name,
                    variable.At,
                    "Give the derivative a variable of its own, as in der(x) = v, and use that in the equations of motion."
                )
            );
            return (null, planner.findings);
        }

        var plan = planner.Run(states);
        if (plan is not null)
            plan.Reduced = (reduced, dummies);
        return (plan, planner.findings);
    }

    const string HighIndex = "high-index";

    /// <summary>Whether as many equations as unknowns are there, but states are tied so that some cannot be solved for anything.</summary>
    bool mayBeHighIndex;

    ExecutionPlan? Run(int[] states)
    {
        var isState = new bool[model.Variables.Count];
        foreach (var s in states)
            isState[s] = true;
        var unknowns = model
            .Variables.Where(v =>
                v.Role is VariableRole.Continuous or VariableRole.Discrete && representative[v.Index] == v.Index && !isState[v.Index]
            )
            .Select(v => v.Index)
            .ToArray();
        var slot = new int[model.Variables.Count];
        Array.Fill(slot, -1);
        for (var i = 0; i < unknowns.Length; i++)
            slot[unknowns[i]] = i;

        var incidence = new int[equations.Count][];
        var candidates = new int[equations.Count][];
        var budget = WorkBudget.Current;
        for (var e = 0; e < equations.Count; e++)
        {
            budget.Check();
            (incidence[e], candidates[e]) = Incidence(e, slot);
        }

        var unknownOf = Matching.Match(candidates, unknowns.Length);
        if (ReportUnmatched(unknownOf, unknowns))
            return null;

        var equationOf = new int[unknowns.Length];
        for (var e = 0; e < equations.Count; e++)
            equationOf[unknownOf[e]] = e;
        var dependencies = new int[equations.Count][];
        for (var e = 0; e < equations.Count; e++)
        {
            // Every equation holds the unknown it is solved for.
            var others = dependencies[e] = new int[incidence[e].Length - 1];
            var place = 0;
            foreach (var u in incidence[e])
                if (u != unknownOf[e])
                    others[place++] = equationOf[u];
        }

        var blocks = new List<PlanBlock>();
        foreach (var component in StrongComponents.Find(dependencies))
        {
            budget.Check();
            if (component.Length > 1)
                blocks.AddRange(MakeBlocks(component, unknownOf, unknowns, incidence, equationOf));
            else if (MakeBlock(component, unknownOf, unknowns) is { } block)
                blocks.Add(block);
        }

        CheckStart(states);
        if (findings.Any(f => f.Severity == Severity.Error))
            return null;

        var relations = new RelationCollector(model, isState);
        foreach (var block in blocks)
            relations.Collect(block);
        FlatReinit[] reinits =
        [
            .. model.Reinits.Select(r =>
                r with
                {
                    Condition = Represent(r.Condition),
                    State = representative[r.State],
                    Value = Represent(r.Value),
                }
            ),
        ];
        FlatAssertion[] assertions = [.. model.Assertions.Select(a => a with { Condition = Represent(a.Condition) })];
        foreach (var reinit in reinits)
            relations.Collect(reinit.Condition, reinit.Owner);
        foreach (var assertion in assertions)
            relations.Collect(assertion.Condition, assertion.Owner);
        relations.CollectFromSteps();
        int[] derivatives = [.. states.Select(s => model.Variables[s].Derivative)];
        var ordered = BlockOrder.Arrange(model, blocks, states, derivatives, relations.Relations);
        var plan = new ExecutionPlan
        {
            Model = model,
            Representative = representative,
            States = states,
            Derivatives = derivatives,
            Blocks = ordered,
            Relations = relations.Relations,
            RelationIndex = relations.Index,
            StepRelations = relations.InSteps,
            Reinits = reinits,
            Assertions = assertions,
            StartEquations = [.. model.InitialEquations, .. FixedValues(isState)],
            Discretes = [.. unknowns.Where(u => model.Variables[u].Role == VariableRole.Discrete)],
            TimeTables = relations.TimeTables,
            HeldAbscissas = relations.HeldAbscissas,
        };
        plan.Index();
        return plan;
    }

    /// <summary>Fixed start values of variables that are no states here hold all the same (Modelica Language Specification 3.6, section
    /// 8.6).</summary>
    IEnumerable<FlatEquation> FixedValues(bool[] isState) =>
        model
            .Variables.Where(v =>
                v.IsFixed
                && !v.IsFixedByDefault
                && v.Role == VariableRole.Continuous
                && !(isState[v.Index] && representative[v.Index] == v.Index)
            )
            .Select(v => new FlatEquation(new VariableTerm(v.Index), v.Start ?? Term.Zero, v.Owner, v.At));

    /// <summary>Initial equations need states whose start is not fixed already.</summary>
    void CheckStart(int[] states)
    {
        foreach (var equation in model.InitialEquations)
            if (TermBuilder.Any(equation.Left, t => t is PreviousTerm) || TermBuilder.Any(equation.Right, t => t is PreviousTerm))
                findings.Add(
                    new Finding(
                        Severity.Error,
                        "start",
                        "An initial equation cannot set the value before the start.",
                        equation.Owner,
                        null,
                        equation.At,
                        "Give the discrete variable a start value."
                    )
                );
        var open = states.Count(s => !model.Variables[s].IsFixed || model.Variables[s].IsFixedByDefault);
        if (model.InitialEquations.Count <= open)
            return;
        var first = model.InitialEquations[open];
        findings.Add(
            new Finding(
                Severity.Error,
                "start",
                $"There are {model.InitialEquations.Count} initial equations, but only {open} states whose start is not fixed.",
                first.Owner,
                null,
                first.At,
                "Remove an initial equation or fixed = true from a start value."
            )
        );
    }

    Term Represent(Term term) => AliasElimination.Represent(term, representative);

    /// <summary>The unknowns an equation holds, and those it may be solved for, an explicit left side first.</summary>
    (int[] All, int[] Solvable) Incidence(int e, int[] slot)
    {
        var (left, right, _, _) = equations[e];
        slots = slot;
        if (isHeld.Length < slot.Length)
            (isHeld, isSolvable) = (new bool[slot.Length], new bool[slot.Length]);
        foreach (var u in all)
            isHeld[u] = false;
        foreach (var u in solvable)
            isSolvable[u] = false;
        all.Clear();
        solvable.Clear();
        noteHeld ??= NoteHeld;
        TermBuilder.VisitVariables(left, noteHeld);
        TermBuilder.VisitVariables(right, noteHeld);
        var explicitOnly = NoteAlone(left, right) | NoteAlone(right, left);
        if (!explicitOnly)
        {
            noteSolvable ??= NoteSolvable;
            TermSolver.VisitSolvable(left, noteSolvable);
            TermSolver.VisitSolvable(right, noteSolvable);
        }

        return ([.. all], [.. solvable]);
    }

    // Every equation is asked, so lists and delegates serve all of them.
    readonly List<int> all = [],
        solvable = [];
    Action<int>? noteHeld,
        noteSolvable;
    bool[] isHeld = [],
        isSolvable = [];
    int[] slots = [];

    void AddSolvable(int unknown)
    {
        if (isSolvable[unknown])
            return;
        isSolvable[unknown] = true;
        solvable.Add(unknown);
    }

    void NoteHeld(int variable)
    {
        if (slots[variable] < 0 || isHeld[slots[variable]])
            return;
        isHeld[slots[variable]] = true;
        all.Add(slots[variable]);
    }

    void NoteSolvable(int variable)
    {
        if (slots[variable] >= 0 && model.Variables[variable].Role == VariableRole.Continuous)
            AddSolvable(slots[variable]);
    }

    /// <summary>Notes a side that is an unknown alone.</summary>
    /// <returns>Whether it is a discrete one, for which nothing else can be solved.</returns>
    bool NoteAlone(Term side, Term other)
    {
        if (side is not VariableTerm v || slots[v.Index] < 0 || TermSolver.Contains(other, v.Index))
            return false;
        AddSolvable(slots[v.Index]);
        return model.Variables[v.Index].Role == VariableRole.Discrete;
    }

    bool ReportUnmatched(int[] unknownOf, int[] unknowns)
    {
        var matched = new bool[unknowns.Length];
        foreach (var u in unknownOf)
            if (u >= 0)
                matched[u] = true;
        var count = $"{equations.Count} equations for {unknowns.Length} unknowns";
        foreach (var e in Enumerable.Range(0, unknownOf.Length).Where(e => unknownOf[e] < 0).Take(20))
        {
            var (left, right, owner, at) = equations[e];
            if (
                left is VariableTerm { Index: var own }
                && model.Variables[own].Role == VariableRole.Discrete
                && TermSolver.Contains(right, own)
            )
            {
                DiscreteLoop([own], [owner], at);
                continue;
            }

            var text = $"{TermText.Print(left, model.NameOf)} = {TermText.Print(right, model.NameOf)}";
            var constrained = new List<string>();
            TermBuilder.VisitVariables(left, i =>
            {
                if (model.Variables[i].Derivative >= 0)
                    constrained.Add(model.NameOf(i));
            });
            TermBuilder.VisitVariables(right, i =>
            {
                if (model.Variables[i].Derivative >= 0)
                    constrained.Add(model.NameOf(i));
            });
            findings.Add(
                constrained.Count > 0 && equations.Count == unknowns.Length
                    ? new Finding(
                        Severity.Error,
                        HighIndex,
                        $"The equation {text} ties {string.Join(" and ", constrained.Distinct())} directly, which an integration "
                            + $"cannot follow.",
                        owner,
                        null,
                        at,
                        "Put a dynamic part, such as a lag, between them."
                    )
                    : new Finding(
                        Severity.Error,
                        "too-many-equations",
                        $"There is an equation too many: {text} ({count}).",
                        owner,
                        null,
                        at,
                        "Remove one of the equations or values that fix the same quantity."
                    )
            );
        }

        foreach (
            var u in Enumerable.Range(0, unknowns.Length).Where(u => !matched[u] && findings.All(f => f.Code != "discrete-loop")).Take(20)
        )
        {
            var variable = model.Variables[unknowns[u]];
            mayBeHighIndex |= equations.Count == unknowns.Length && model.Variables.Any(v => v.Derivative >= 0);
            findings.Add(
                new Finding(
                    Severity.Error,
                    "too-few-equations",
                    $"No equation is left to determine '{variable.Name}' ({count}).",
                    variable.Owner,
                    variable.Name,
                    variable.At,
                    "Add an equation for it, or connect what should drive it."
                )
            );
        }

        return findings.Count > 0;
    }

    /// <summary>
    /// Continuous and discrete unknowns that depend on each other: the continuous ones are solved with the discrete values at hand, these
    /// follow, and the event's iteration repeats both until nothing changes (Modelica Language Specification 3.6, appendix B).
    /// </summary>
    IEnumerable<PlanBlock> MakeBlocks(int[] component, int[] unknownOf, int[] unknowns, int[][] incidence, int[] equationOf)
    {
        bool IsDiscrete(int e) => model.Variables[unknowns[unknownOf[e]]].Role == VariableRole.Discrete;
        var discrete = component.Where(IsDiscrete).ToArray();
        // What a when clause sets is computed once an event: it has nothing to iterate.
        bool IsSetByWhen(int e) =>
            equations[e].Right is SequenceTerm or SequenceResultTerm
            || equations[e].Right is ConditionalTerm c && Last(c) is PreviousTerm p && p.Index == unknowns[unknownOf[e]];
        if (discrete.Length == 0 || discrete.Length == component.Length || discrete.Any(IsSetByWhen))
        {
            if (MakeBlock(component, unknownOf, unknowns) is { } block)
                yield return block;
            yield break;
        }

        var held = discrete.Select(e => unknowns[unknownOf[e]]).ToHashSet();
        foreach (
            var part in (int[][])
                [
                    [.. component.Where(e => !IsDiscrete(e))],
                    discrete,
                ]
        )
        {
            var place = new Dictionary<int, int>();
            for (var i = 0; i < part.Length; i++)
                place[part[i]] = i;
            var dependencies = part.Select(e =>
                    incidence[e]
                        .Where(u => u != unknownOf[e])
                        .Select(u => place.GetValueOrDefault(equationOf[u], -1))
                        .Where(p => p >= 0)
                        .ToArray()
                )
                .ToArray();
            foreach (var inner in StrongComponents.Find(dependencies))
            {
                if (MakeBlock([.. inner.Select(i => part[i])], unknownOf, unknowns) is not { } block)
                    continue;
                if (!ReferenceEquals(part, discrete))
                    block.Held = held;
                yield return block;
            }
        }
    }

    static Term Last(Term term) => term is ConditionalTerm c ? Last(c.Otherwise) : term;

    PlanBlock? MakeBlock(int[] component, int[] unknownOf, int[] unknowns)
    {
        string[] owners =
            component.Length == 1 ? [equations[component[0]].Owner] : [.. component.Select(e => equations[e].Owner).Distinct()];
        if (component.Length == 1)
        {
            var (left, right, _, at) = equations[component[0]];
            var variable = unknowns[unknownOf[component[0]]];
            if (TermSolver.Solve(left, right, variable) is { } value)
                return new AssignmentBlock(variable, ReciprocalHoisting.Rewrite(value, model)) { Owners = owners };
            if (model.Variables[variable].Role == VariableRole.Discrete)
                return DiscreteLoop([variable], owners, at);
            return new LoopBlock
            {
                Torn = [variable],
                Inner = [],
                Residuals = [TermBuilder.Subtract(left, right)],
                Owners = owners,
                IsLinear = false,
            };
        }

        var variables = component.Select(e => unknowns[unknownOf[e]]).ToArray();
        var discrete = variables.Where(v => model.Variables[v].Role == VariableRole.Discrete).ToArray();
        if (discrete.Length > 0)
            return DiscreteLoop(discrete, owners, equations[component[0]].At);
        var loop = Tearing.Tear([.. component.Select(e => (equations[e].Left, equations[e].Right))], variables, owners, IsNeverZero);
        if (variables.All(v => model.Variables[v].Owner.Length > 0 && !IsSignal(v)))
            return loop;
        var named = owners.Where(o => o.Length > 0).Take(8).ToList();
        var names = named.Count > 0 ? string.Join(", ", named) : "the model";
        findings.Add(
            new Finding(
                Severity.Information,
                "algebraic-loop",
                $"An algebraic loop of {component.Length} equations runs through {names}; it is solved at every step for "
                    + string.Join(", ", loop.Torn.Take(6).Select(model.NameOf))
                    + (loop.Torn.Length > 6 ? $" and {loop.Torn.Length - 6} more." : "."),
                owners[0],
                null,
                equations[component[0]].At,
                "A lag or a delay in the loop would break it."
            )
        );
        return loop;
    }

    HashSet<int>? signals;

    /// <summary>Whether an unknown goes from part to part as a signal. What parts of a network decide together is how networks are, and
    /// nobody could break it.</summary>
    bool IsSignal(int variable)
    {
        signals ??=
        [
            .. model
                .Variables.Where(v => v.Causality is Causality.Input or Causality.Output && v.Owner.Length > 0)
                .Select(v => representative[v.Index]),
        ];
        return signals.Contains(variable);
    }

    TermEvaluator? parameters;

    /// <summary>Whether a factor is a number or a term of parameters other than zero; plans are made anew when a parameter becomes
    /// zero.</summary>
    bool IsNeverZero(Term factor)
    {
        var isPlayed = false;
        TermBuilder.VisitVariables(factor, i => isPlayed |= model.Variables[i].IsPlayed);
        if (isPlayed || !Dependence.OnParameters(factor, model))
            return false;
        if (parameters is null)
        {
            var values = model.ParameterValues();
            parameters = new TermEvaluator(i => values[i]);
        }

        var value = parameters.Evaluate(factor);
        return value != 0 && double.IsFinite(value);
    }

    PlanBlock? DiscreteLoop(int[] variables, string[] owners, Position at)
    {
        findings.Add(
            new Finding(
                Severity.Error,
                "discrete-loop",
                $"The discrete values {string.Join(", ", variables.Take(5).Select(model.NameOf))} depend on themselves within one instant.",
                owners[0],
                null,
                at,
                "Use the value from before, pre(…), or put a sampled delay into the loop."
            )
        );
        return null;
    }
}
