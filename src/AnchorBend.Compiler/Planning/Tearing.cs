using AnchorBend.Language;
using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Planning;

/// <summary>
/// Tearing of an algebraic loop: a few variables are guessed so that the others follow one by one. Which variables to tear is chosen
/// greedily, the one in most of the equations left first (heuristic after Cellier and Kofman, "Continuous System Simulation", ch. 7).
/// </summary>
static class Tearing
{
    /// <param name="equations">Each matched with the variable at its place.</param>
    /// <param name="isSafe">Whether a factor of a variable is never zero: dividing by others could fail where the loop as a whole has a
    /// solution.</param>
    public static LoopBlock Tear(
        List<(Term Left, Term Right)> equations,
        int[] variables,
        IReadOnlyList<string> owners,
        Func<Term, bool> isSafe
    )
    {
        var budget = WorkBudget.Current;
        var unknown = new HashSet<int>(variables);
        var contents = equations.Select(e => Variables(e, unknown)).ToArray();
        var holders = variables.ToDictionary(v => v, _ => new List<int>());
        for (var e = 0; e < contents.Length; e++)
            foreach (var v in contents[e])
                holders[v].Add(e);
        // How many unknowns each equation still holds, and how many equations that are left hold each unknown.
        var open = contents.Select(c => c.Count).ToArray();
        var uses = holders.ToDictionary(h => h.Key, h => h.Value.Count);
        var left = new HashSet<int>(Enumerable.Range(0, equations.Count));
        var torn = new List<int>();
        var inner = new List<AssignmentBlock>();
        var ready = new Queue<int>(left.Order());
        while (unknown.Count > 0)
        {
            while (ready.Count > 0)
            {
                var e = ready.Dequeue();
                budget.Check();
                if (open[e] != 1 || !left.Contains(e))
                    continue;
                var last = contents[e].First(unknown.Contains);
                if (TermSolver.Solve(equations[e].Left, equations[e].Right, last, isSafe) is not { } value)
                    continue;
                inner.Add(new AssignmentBlock(last, value) { Owners = owners });
                left.Remove(e);
                foreach (var v in contents[e])
                    uses[v]--;
                Known(last);
            }

            if (unknown.Count == 0)
                break;
            budget.Check();
            var chosen = unknown.OrderByDescending(v => uses[v]).ThenBy(v => v).First();
            torn.Add(chosen);
            Known(chosen);
        }

        if (equations.Count > SmallLoop && (Depth(inner) > LongestChain || torn.Count > MostTorn))
        {
            var all = equations.Select(e => TermBuilder.Subtract(e.Left, e.Right)).ToArray();
            var whole = new LoopBlock
            {
                Torn = variables,
                Inner = [],
                Residuals = all,
                Owners = owners,
                IsLinear = false,
            };
            return new LoopBlock
            {
                Torn = variables,
                Inner = [],
                Residuals = all,
                Owners = owners,
                IsSparse = true,
                Guesses = inner,
                IsLinear = IsLinear(whole, variables),
            };
        }

        var residuals = left.Order().Select(e => TermBuilder.Subtract(equations[e].Left, equations[e].Right)).ToArray();
        var block = new LoopBlock
        {
            Torn = [.. torn],
            Inner = [.. inner],
            Residuals = residuals,
            Owners = owners,
            IsLinear = false,
        };
        return new LoopBlock
        {
            Torn = block.Torn,
            Inner = block.Inner,
            Residuals = residuals,
            Owners = owners,
            IsLinear = IsLinear(block, variables),
        };

        void Known(int variable)
        {
            unknown.Remove(variable);
            foreach (var e in holders[variable])
            {
                open[e]--;
                if (left.Contains(e))
                    ready.Enqueue(e);
            }
        }
    }

    /// <summary>Loops up to this size are torn in any case.</summary>
    const int SmallLoop = 12;

    /// <summary>Most torn variables: their derivatives are code of one method, of which there are as many as the square of this.</summary>
    const int MostTorn = 60;

    /// <summary>Most inner assignments one behind another.</summary>
    const int LongestChain = 8;

    static int Depth(List<AssignmentBlock> inner)
    {
        var depth = new Dictionary<int, int>();
        var deepest = 0;
        foreach (var assignment in inner)
        {
            var own = 0;
            TermBuilder.VisitVariables(assignment.Value, v => own = Math.Max(own, depth.GetValueOrDefault(v)));
            depth[assignment.Variable] = ++own;
            deepest = Math.Max(deepest, own);
        }

        return deepest;
    }

    static HashSet<int> Variables((Term Left, Term Right) equation, HashSet<int> unknown)
    {
        var result = new HashSet<int>();
        TermBuilder.VisitVariables(equation.Left, v =>
        {
            if (unknown.Contains(v))
                result.Add(v);
        });
        TermBuilder.VisitVariables(equation.Right, v =>
        {
            if (unknown.Contains(v))
                result.Add(v);
        });
        return result;
    }

    /// <summary>Whether no derivative of the loop's equations holds one of its variables and no condition depends on one.</summary>
    static bool IsLinear(LoopBlock block, int[] variables)
    {
        var members = variables.ToHashSet();
        var budget = WorkBudget.Current;
        bool Linear(Term term)
        {
            budget.Check();
            if (
                TermBuilder.Any(term, t =>
                    t is RelationTerm or ConditionalTerm
                    && TermBuilder.Any(t is ConditionalTerm c ? c.Condition : t, x => x is VariableTerm v && members.Contains(v.Index))
                )
            )
                return false;
            var holds = new HashSet<int>();
            TermBuilder.VisitVariables(term, v =>
            {
                if (members.Contains(v))
                    holds.Add(v);
            });
            var partials = new PartialDerivatives(term);
            return holds.All(v => !TermBuilder.Any(partials.Along(v), t => t is VariableTerm x && members.Contains(x.Index)));
        }

        return block.Residuals.All(Linear) && block.Inner.All(i => Linear(i.Value));
    }
}
