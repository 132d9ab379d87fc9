using AnchorBend.Compiler.Planning;
using AnchorBend.Compiler.Preparation;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Design;

/// <summary>
/// Real values that change at events only and lie on a path from an input to an output: a sample and hold, a digital controller. A linear
/// system of what happens between events does not contain what goes through them.
/// </summary>
public static class SampledPath
{
    /// <summary>These values, of which a small change at the input makes a small change that comes to the output.</summary>
    public static List<int> Between(ExecutionPlan plan, int input, int output)
    {
        var path = On(plan, input, output);
        return
        [
            .. plan
                .Model.Variables.Where(v =>
                    v is { Role: VariableRole.Discrete, Type: ScalarType.Real }
                    && plan.Representative[v.Index] == v.Index
                    && path.Contains(v.Index)
                )
                .Select(v => v.Index),
        ];
    }

    /// <summary>Whether a signal keeps its value from sample to sample.</summary>
    public static bool IsHeld(PreparedModel prepared, string signal)
    {
        if (prepared.Find(signal) is not { } variable)
            return false;
        var plan = prepared.Compiled!.Plan;
        var at = plan.Representative[variable.Index];
        // A continuous variable may be no more than the name of what is held.
        while (plan.Model.Variables[at].Role == VariableRole.Continuous)
            if (plan.Blocks.OfType<AssignmentBlock>().FirstOrDefault(b => b.Variable == at) is { Value: VariableTerm { Index: var other } })
                at = plan.Representative[other];
            else
                return false;
        return plan.Model.Variables[at].Role == VariableRole.Discrete;
    }

    static HashSet<int> On(ExecutionPlan plan, int input, int output)
    {
        var flow = new SignalFlow(plan);
        var path = flow.From(input);
        path.IntersectWith(flow.To(plan.Representative[output]));
        return path;
    }

    /// <summary>Refuses where such a value lies between input and output.</summary>
    /// <exception cref="DesignException">Names the parts.</exception>
    public static void Refuse(ExecutionPlan plan, int input, int output)
    {
        if (Between(plan, input, output) is { Count: > 0 } found)
            throw new DesignException(
                "sampled",
                $"Between the signals lies what works at samples or events only ({Owners(plan, found)}); "
                    + "a continuous linear system cannot hold it.",
                "Linearise the continuous part alone, from the held output to the measured signal, or open the loop at the sampled part."
            );
    }

    static string Owners(ExecutionPlan plan, IEnumerable<int> variables)
    {
        var parts = variables.Select(v => plan.Model.Variables[v]).Select(v => v.Owner.Length > 0 ? v.Owner : v.Name).Distinct().ToList();
        return $"{string.Join(", ", parts.Take(5))}{(parts.Count > 5 ? " and others" : "")}";
    }

    /// <summary>The clocks at which values on a path are set.</summary>
    /// <param name="memory">The values, as of <see cref="Between"/>.</param>
    /// <param name="values">Of the parameters that say when samples are taken.</param>
    /// <exception cref="DesignException">Something there is set by more than a clock alone, or delays lie there, too.</exception>
    internal static List<Clock> Clocks(ExecutionPlan plan, int input, int output, List<int> memory, double[] values)
    {
        var path = On(plan, input, output);
        var flags = plan.Model.Clocks.ToDictionary(c => c.Flag);
        if (plan.Model.Delays.Any(d => path.Contains(plan.Representative[d.Source])))
            throw new DesignException(
                "sampled-delay",
                "Samples and a dead time of the continuous part lie between the signals, for which there is no discrete system of finite "
                    + "order.",
                "Open the loop at the output of the sampled part, or make the dead time one of whole samples."
            );
        var used = new HashSet<int>();
        foreach (var block in plan.Blocks)
        {
            var set = block.Determines.Where(memory.Contains).ToList();
            if (set.Count == 0)
                continue;
            var found = block
                .Terms.SelectMany(t => Leaves(t))
                .OfType<VariableTerm>()
                .Select(v => v.Index)
                .Where(flags.ContainsKey)
                .ToList();
            if (found.Count == 0)
                throw Unclear(plan, set, "is set by events that are no samples of a clock");
            if (block is not AssignmentBlock || block.Held is { Count: > 0 })
                throw Unclear(plan, set, "depends on itself within one sample");
            if (block.Terms.SelectMany(Leaves).Any(t => t is SequenceTerm or SequenceResultTerm))
                throw Unclear(plan, set, "is computed by an algorithm");
            if (
                block
                    .Terms.SelectMany(Leaves)
                    .OfType<PreviousTerm>()
                    .Any(p => plan.Model.Variables[plan.Representative[p.Index]].Type is ScalarType.Integer)
            )
                throw Unclear(plan, set, "follows a count of samples");
            used.UnionWith(found);
        }

        foreach (var reinit in plan.Reinits)
            if (path.Contains(reinit.State) && Leaves(reinit.Condition).OfType<VariableTerm>().Any(v => flags.ContainsKey(v.Index)))
                throw Unclear(plan, [reinit.State], "is set anew at samples");
        var evaluator = new TermEvaluator(i => values[i]);
        return
        [
            .. plan
                .Model.Clocks.Where(c => used.Contains(c.Flag))
                .Select(c => new Clock(c.Flag, evaluator.Evaluate(c.Start), evaluator.Evaluate(c.Interval), c.Owner)),
        ];
    }

    static DesignException Unclear(ExecutionPlan plan, IReadOnlyList<int> variables, string why) =>
        new(
            "sampled",
            $"Between the signals '{plan.Model.NameOf(variables[0])}' {why}, so what it does to a small change is not known by its "
                + "equations.",
            "Measure the response of the running model instead, or choose signals on one side of it."
        );

    static IEnumerable<Term> Leaves(Term term)
    {
        var found = new List<Term>();
        void Add(Term t)
        {
            found.Add(t);
            foreach (var operand in t.Operands)
                Add(operand);
        }

        Add(term);
        return found;
    }
}
