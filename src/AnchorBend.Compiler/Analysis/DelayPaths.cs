using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Analysis;

/// <summary>Which delayed signals reach the sources of which delays at once, without an integrator in between.</summary>
static class DelayPaths
{
    /// <returns>For each delay the delays whose output its source feels at once.</returns>
    public static HashSet<int>[] Find(ExecutionPlan plan)
    {
        if (plan.Model.Delays.Count == 0)
            return [];
        var reads = new Dictionary<int, List<Term>>();
        foreach (var block in plan.Blocks)
        {
            List<Term> terms = [.. block.Terms];
            foreach (var variable in block.Determines)
                reads[variable] = terms;
        }

        var result = new HashSet<int>[plan.Model.Delays.Count];
        for (var d = 0; d < result.Length; d++)
        {
            var found = result[d] = [];
            var seen = new HashSet<int>();
            var open = new Stack<int>([plan.Representative[plan.Model.Delays[d].Source]]);
            while (open.TryPop(out var variable))
            {
                if (!seen.Add(variable) || plan.StateSlot[variable] >= 0 || !reads.TryGetValue(variable, out var terms))
                    continue;
                foreach (var term in terms)
                    Collect(term, found, open);
            }
        }

        return result;
    }

    static void Collect(Term term, HashSet<int> delays, Stack<int> variables)
    {
        if (term is DelayTerm delay)
            delays.Add(delay.Delay);
        if (term is VariableTerm { Index: not FlatModel.TimeIndex and var index })
            variables.Push(index);
        foreach (var operand in term.Operands)
            Collect(operand, delays, variables);
    }
}
