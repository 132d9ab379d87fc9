using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation;
using MathNet.Numerics.LinearAlgebra;

namespace AnchorBend.Design;

/// <summary>
/// Linearises a model about an operating point with exact derivatives: the chain rule through the sorted plan, the implicit function
/// theorem at algebraic loops. Sampled values are held, delays stay delays.
/// </summary>
public sealed class Linearizer
{
    /// <summary>Most states: rows are dense, one of this length for each unknown, and poles cost the cube.</summary>
    const int MostStates = 1000;

    readonly ExecutionPlan plan;
    readonly double[] values;
    readonly TermEvaluator evaluator;
    readonly Dictionary<int, double[]> rows = [];
    readonly Dictionary<int, int> memory;
    readonly int states,
        delays,
        input;

    /// <param name="memory">Variables that keep what samples gave them, which count as further inputs here: what they were before.</param>
    Linearizer(ExecutionPlan plan, double[] values, int input, IReadOnlyList<int> memory)
    {
        (this.plan, this.values, this.input) = (plan, values, input);
        (states, delays) = (plan.States.Length, plan.Model.Delays.Count);
        this.memory = memory.Select((v, i) => (v, i)).ToDictionary(m => m.v, m => m.i);
        evaluator = new TermEvaluator(i => this.values[i], null, d => this.values[plan.Model.Delays[d].Source]);
        Run();
    }

    int Width => states + 1 + delays + memory.Count;

    /// <summary>Linearises from one signal to another.</summary>
    /// <param name="from">Where the small input is added: a variable's name.</param>
    /// <param name="to">The output: a variable's name.</param>
    /// <param name="open">A signal at which the loop is cut, so that nothing comes through but an input added there; null for none.</param>
    /// <exception cref="DesignException">A name is unknown or the cut cannot be made.</exception>
    public static LinearSystem Between(PreparedModel prepared, OperatingPoint point, string from, string to, string? open = null) =>
        Between(prepared, point, from, to, Cuts(open));

    /// <param name="open">Signals at which loops are cut.</param>
    /// <inheritdoc cref="Between(PreparedModel, OperatingPoint, string, string, string?)"/>
    public static LinearSystem Between(PreparedModel prepared, OperatingPoint point, string from, string to, IReadOnlyList<string> open)
    {
        var (plan, input, target) = Opened(prepared, from, to, open);
        SampledPath.Refuse(plan, input, target);
        var (suited, values) = PlanValues.At(plan, prepared, point);
        return new Linearizer(suited, values, input, []).System(target);
    }

    internal static IReadOnlyList<string> Cuts(string? open) => open is null ? [] : [open];

    /// <summary>The plan of a model with a small input at one signal, with its loops cut at others.</summary>
    internal static (ExecutionPlan Plan, int Input, int Target) Opened(
        PreparedModel prepared,
        string from,
        string to,
        IReadOnlyList<string> open
    )
    {
        var model = prepared.Model;
        var source = Find(model, from);
        var target = Find(model, to);
        if (source.Role is VariableRole.Parameter)
            throw new DesignException(
                "signal",
                $"'{from}' is a parameter, which does not change while the model runs.",
                "Take a signal, such as the output of the source that it sets."
            );
        var cuts = open.Select(o => Find(model, o)).DistinctBy(v => v.Index).ToList();
        var opened = LoopOpening.Insert(model, source, cuts, out var input);
        var (plan, findings) = Planner.Plan(opened);
        if (plan is null)
            throw new DesignException(
                "open",
                $"With the loop opened at '{string.Join("', '", open.DefaultIfEmpty(from))}' the model has no solution: "
                    + findings[0].Message,
                "Open the loop at another signal."
            );
        if (plan.States.Length > MostStates)
            throw TooMany(plan);
        return (plan, input, target.Index);
    }

    /// <summary>The gradients of variables with the memory of samples: over states, then the input, then that memory as it was
    /// before.</summary>
    /// <param name="values">At the operating point, with the flags of the samples that are taken.</param>
    internal static double[][] Gradients(
        ExecutionPlan plan,
        double[] values,
        int input,
        IReadOnlyList<int> memory,
        IEnumerable<int> variables
    )
    {
        var linear = new Linearizer(plan, values, input, memory);
        return [.. variables.Select(v => linear.Row(v)).Select(r => (double[])[.. r[..(linear.states + 1)], .. r[^memory.Count..]])];
    }

    /// <summary>The states of a whole model about an operating point: A, and what delays do, without input and output.</summary>
    /// <exception cref="DesignException">There are too many states, or no derivative.</exception>
    public static LinearSystem Whole(PreparedModel prepared, OperatingPoint point)
    {
        var plan = prepared.Compiled!.Plan;
        if (plan.States.Length > MostStates)
            throw TooMany(plan);
        var (suited, values) = PlanValues.At(plan, prepared, point);
        return new Linearizer(suited, values, -1, []).System(-1);
    }

    static DesignException TooMany(ExecutionPlan plan) =>
        new(
            "too-many-states",
            $"The model has {plan.States.Length} states; one of at most {MostStates} can be linearised.",
            "Design the loop in a smaller model of the plant."
        );

    static FlatVariable Find(FlatModel model, string name) => model.Find(name) ?? throw Unknown(model, name);

    /// <summary>What is told of a signal that is not there.</summary>
    public static DesignException Unknown(FlatModel model, string name) =>
        new(
            "unknown-name",
            $"There is no signal '{name}'.",
            Nearest.Of(name, model.Variables.Select(v => v.Name).Concat(model.Aliases.Keys)) is { } near
                ? $"Did you mean '{near}'?"
                : "Names are paths such as Drive.y."
        );

    double[] Row(int variable)
    {
        var place = plan.Representative[variable];
        if (rows.TryGetValue(place, out var row))
            return row;
        row = new double[Width];
        if (plan.StateSlot[place] >= 0)
            row[plan.StateSlot[place]] = 1;
        else if (place == input)
            row[states] = 1;
        else if (memory.TryGetValue(place, out var slot))
            row[states + 1 + delays + slot] = 1;
        return rows[place] = row;
    }

    void Run()
    {
        foreach (var block in plan.Blocks)
        {
            switch (block)
            {
                // Discrete values are held between events; their change is no part of the linear system, unless it is kept in mind.
                case AssignmentBlock a
                    when plan.Model.Variables[a.Variable].Role == VariableRole.Discrete && !memory.ContainsKey(a.Variable):
                    rows[a.Variable] = new double[Width];
                    break;
                case AssignmentBlock a:
                    rows[a.Variable] = Gradient(a.Value, null).Row;
                    break;
                case LoopBlock loop:
                    SolveLoop(loop);
                    break;
            }
        }
    }

    /// <summary>The gradient of a term over states, input and delayed signals; unknown loop variables apart.</summary>
    (double[] Row, Dictionary<int, double> Unknown) Gradient(Term term, HashSet<int>? unknown)
    {
        var result = new double[Width];
        var open = new Dictionary<int, double>();
        var leaves = new HashSet<(Leaf Kind, int Index)>();
        Leaves(term, leaves);
        foreach (var key in leaves)
        {
            var partial = TermDerivative.Of(term, leaf => KeyOf(leaf) == key ? Term.One : Term.Zero);
            if (partial.IsConstant(0))
                continue;
            var factor = evaluator.Evaluate(partial);
            if (factor == 0)
                continue;
            if (key.Kind != Leaf.Variable)
            {
                result[key.Kind == Leaf.Delayed ? states + 1 + key.Index : states + 1 + delays + memory[plan.Representative[key.Index]]] +=
                    factor;
                continue;
            }

            if (unknown is not null && unknown.Contains(key.Index))
            {
                open[key.Index] = open.GetValueOrDefault(key.Index) + factor;
                continue;
            }

            var row = Row(key.Index);
            for (var i = 0; i < row.Length; i++)
                result[i] += factor * row[i];
        }

        return (result, open);
    }

    /// <summary>What a term depends on: a variable, a delayed one, or one as it was before a sample.</summary>
    enum Leaf
    {
        Variable,
        Delayed,
        Previous,
    }

    static (Leaf Kind, int Index)? KeyOf(Term leaf) =>
        leaf switch
        {
            DelayTerm d => (Leaf.Delayed, d.Delay),
            PreviousTerm p => (Leaf.Previous, p.Index),
            VariableTerm v => (Leaf.Variable, v.Index),
            _ => null,
        };

    void Leaves(Term term, HashSet<(Leaf, int)> leaves)
    {
        switch (term)
        {
            case DelayTerm:
            case VariableTerm v
                when plan.Model.Variables[v.Index].Role is VariableRole.Continuous
                    || v.Index == input
                    || memory.ContainsKey(plan.Representative[v.Index]):
            case PreviousTerm p when memory.ContainsKey(plan.Representative[p.Index]):
                leaves.Add(KeyOf(term)!.Value);
                return;
            case RelationTerm:
                return;
        }

        foreach (var operand in term.Operands)
            Leaves(operand, leaves);
    }

    void SolveLoop(LoopBlock loop)
    {
        int[] variables = [.. loop.Determines];
        var unknown = variables.ToHashSet();
        var place = variables.Select((v, i) => (v, i)).ToDictionary(p => p.v, p => p.i);
        var n = variables.Length;
        var matrix = Matrix<double>.Build.Dense(n, n);
        var right = Matrix<double>.Build.Dense(n, Width);
        var equation = 0;
        void Add(Term residual)
        {
            var (row, open) = Gradient(residual, unknown);
            foreach (var (v, factor) in open)
                matrix[equation, place[v]] += factor;
            for (var j = 0; j < Width; j++)
                right[equation, j] = -row[j];
            equation++;
        }

        foreach (var inner in loop.Inner)
            Add(TermBuilder.Subtract(new VariableTerm(inner.Variable), inner.Value));
        foreach (var residual in loop.Residuals)
            Add(residual);
        var solution = matrix.Solve(right);
        foreach (var (v, i) in place)
            rows[v] = solution.Row(i).ToArray();
    }

    LinearSystem System(int target)
    {
        var output = target < 0 ? new double[Width] : Row(target);
        if (output.Any(v => !double.IsFinite(v)) || plan.Derivatives.Any(d => Row(d).Any(v => !double.IsFinite(v))))
            throw new DesignException(
                "singular",
                "The model has no derivative at this operating point.",
                "Choose another instant, or look for an operation at the edge of its range."
            );
        double[,] a = new double[states, states],
            e = new double[states, delays],
            g = new double[delays, states],
            k = new double[delays, delays];
        double[] b = new double[states],
            h = new double[delays];
        for (var i = 0; i < states; i++)
        {
            var row = Row(plan.Derivatives[i]);
            for (var j = 0; j < states; j++)
                a[i, j] = row[j];
            b[i] = row[states];
            for (var j = 0; j < delays; j++)
                e[i, j] = row[states + 1 + j];
        }

        for (var i = 0; i < delays; i++)
        {
            var row = Row(plan.Model.Delays[i].Source);
            for (var j = 0; j < states; j++)
                g[i, j] = row[j];
            h[i] = row[states];
            for (var j = 0; j < delays; j++)
                k[i, j] = row[states + 1 + j];
        }

        return new LinearSystem
        {
            A = a,
            B = b,
            C = output[..states],
            D = output[states],
            E = e,
            F = output[(states + 1)..(states + 1 + delays)],
            G = g,
            H = h,
            K = k,
            Delays = [.. plan.Model.Delays.Select(d => evaluator.Evaluate(d.Duration))],
            States = [.. plan.States.Select(plan.Model.NameOf)],
        };
    }
}
