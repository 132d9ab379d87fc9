using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>
/// Finds the equations that tie states to each other and differentiates them until the highest derivatives can be solved for
/// (Pantelides, SIAM J. Sci. Stat. Comput. 9, 1988). Which derivatives stay algebraic is then chosen by <see cref="StateChoice"/>s
/// (dummy derivatives; Mattsson and Söderlind, SIAM J. Sci. Comput. 14, 1993).
/// </summary>
sealed class IndexReduction
{
    /// <summary>More differentiations of one equation than any physical network needs.</summary>
    const int MostDifferentiations = 8;

    /// <summary>Nodes of one differentiated equation; derivatives of nested quotients grow without limit.</summary>
    const int LargestEquation = 200_000;

    readonly FlatModel model;
    readonly List<(Term Left, Term Right, string Owner, Position At)> equations;
    readonly List<int> derivativeOfEquation = [],
        equationDerivative = [];
    readonly List<int[]> candidates = [];

    IndexReduction(FlatModel source, List<(Term Left, Term Right, string Owner, Position At)> given)
    {
        model = source.Copy();
        equations = [.. given];
        foreach (var _ in given)
        {
            derivativeOfEquation.Add(-1);
            equationDerivative.Add(-1);
        }
    }

    /// <summary>The model with the new derivatives.</summary>
    public FlatModel Model => model;

    /// <summary>Given equations, then differentiated ones.</summary>
    public IReadOnlyList<(Term Left, Term Right, string Owner, Position At)> Equations => equations;

    /// <summary>For every variable the one that holds its value.</summary>
    public int[] Representative { get; private set; } = [];

    public IReadOnlyList<StateChoice> Choices { get; private set; } = [];

    /// <summary>The given equations that were differentiated, and how often.</summary>
    public IEnumerable<(int Equation, int Times)> Differentiated =>
        Enumerable
            .Range(0, equations.Count)
            .Where(e => derivativeOfEquation[e] < 0 && equationDerivative[e] >= 0)
            .Select(e => (e, Depth(e)));

    int Depth(int e)
    {
        var depth = 0;
        while ((e = equationDerivative[e]) >= 0)
            depth++;
        return depth;
    }

    /// <returns>The reduction, or null where no differentiation helps.</returns>
    public static IndexReduction? Run(
        FlatModel source,
        List<(Term Left, Term Right, string Owner, Position At)> given,
        int[] representative
    )
    {
        var reduction = new IndexReduction(source, given);
        try
        {
            if (!reduction.Reduce())
                return null;
            reduction.Representative =
            [
                .. representative,
                .. Enumerable.Range(representative.Length, reduction.Model.Variables.Count - representative.Length),
            ];
            return reduction;
        }
        catch (NotDifferentiableException)
        {
            return null;
        }
    }

    sealed class NotDifferentiableException : Exception;

    bool Reduce()
    {
        for (var e = 0; e < equations.Count; e++)
            candidates.Add(Solvable(e));
        if (!CanSucceed())
            return false;
        var equationOf = new Dictionary<int, int>();
        var given = equations.Count;
        for (var e = 0; e < given; e++)
        {
            var present = e;
            for (var times = 0; ; times++)
            {
                if (times > MostDifferentiations)
                    return false;
                var seenEquations = new HashSet<int>();
                var seenVariables = new HashSet<int>();
                if (Augment(present, equationOf, seenEquations, seenVariables))
                    break;
                // What the search reached has too few unknowns: it holds for all time, so its derivative holds too.
                if (seenEquations.Any(s => IsDiscrete(s)))
                    return false;
                foreach (var variable in seenVariables.Order())
                    model.DerivativeOf(variable);
                foreach (var equation in seenEquations.Order())
                    Differentiate(equation);
                foreach (var variable in seenVariables)
                    equationOf[model.Variables[variable].Derivative] = equationDerivative[equationOf[variable]];
                present = equationDerivative[present];
            }
        }

        Choices = StateChoice.Find(model, equations, derivativeOfEquation, equationDerivative, candidates, equationOf);
        return true;
    }

    /// <summary>Differentiating helps only where every equation has a variable of its own once derivatives count as their
    /// variables.</summary>
    bool CanSucceed()
    {
        int Base(int v) => model.Variables[v].DerivativeOf is >= 0 and var lower ? Base(lower) : v;
        var matched = Matching.Match([.. candidates.Select(c => c.Select(Base).Distinct().ToArray())], model.Variables.Count);
        return matched.All(v => v >= 0);
    }

    static int Size(Term term)
    {
        var size = 1;
        foreach (var operand in term.Operands)
        {
            size += Size(operand);
            if (size > LargestEquation)
                return size;
        }

        return size;
    }

    bool IsDiscrete(int e) =>
        equations[e].Left is VariableTerm v && model.Variables[v.Index].Role == VariableRole.Discrete
        || equations[e].Right is VariableTerm w
            && model.Variables[w.Index].Role == VariableRole.Discrete
            && candidates[e].Contains(w.Index);

    /// <summary>Depth-first augmenting path over highest derivatives, without recursion.</summary>
    bool Augment(int start, Dictionary<int, int> equationOf, HashSet<int> seenEquations, HashSet<int> seenVariables)
    {
        var path = new Stack<(int Equation, int Next)>();
        path.Push((start, 0));
        seenEquations.Add(start);
        while (path.Count > 0)
        {
            var (equation, next) = path.Pop();
            var options = candidates[equation];
            while (next < options.Length && (!IsHighest(options[next]) || seenVariables.Contains(options[next])))
                next++;
            if (next >= options.Length)
                continue;
            path.Push((equation, next + 1));
            var variable = options[next];
            seenVariables.Add(variable);
            if (equationOf.TryGetValue(variable, out var owner))
            {
                seenEquations.Add(owner);
                path.Push((owner, 0));
                continue;
            }

            foreach (var (e, n) in path.ToArray())
                equationOf[candidates[e][n - 1]] = e;
            return true;
        }

        return false;
    }

    bool IsHighest(int variable) => model.Variables[variable].Derivative < 0;

    void Differentiate(int e)
    {
        if (equationDerivative[e] >= 0)
            return;
        var (left, right, owner, at) = equations[e];
        equationDerivative[e] = equations.Count;
        derivativeOfEquation.Add(e);
        equationDerivative.Add(-1);
        var (rate, other) = (TermDerivative.Of(left, Seed), TermDerivative.Of(right, Seed));
        if (Size(rate) > LargestEquation || Size(other) > LargestEquation)
            throw new NotDifferentiableException();
        equations.Add((rate, other, owner, at));
        candidates.Add(Solvable(equations.Count - 1));
    }

    Term Seed(Term leaf)
    {
        switch (leaf)
        {
            case VariableTerm { Index: FlatModel.TimeIndex }:
                return Term.One;
            case VariableTerm v when model.Variables[v.Index].Role == VariableRole.Continuous:
                return new VariableTerm(model.DerivativeOf(v.Index).Index);
            case DelayTerm:
                throw new NotDifferentiableException();
            default:
                return Term.Zero;
        }
    }

    /// <summary>Unknowns an equation may be solved for: a discrete one on its left alone, else all continuous ones outside
    /// conditions.</summary>
    int[] Solvable(int e)
    {
        var (left, right, _, _) = equations[e];
        var result = new List<int>();
        foreach (var (side, other) in new[] { (left, right), (right, left) })
            if (side is VariableTerm v && model.Variables[v.Index].Role == VariableRole.Discrete && !TermSolver.Contains(other, v.Index))
                return [v.Index];
        void Add(int variable)
        {
            if (model.Variables[variable].Role == VariableRole.Continuous && !result.Contains(variable))
                result.Add(variable);
        }

        TermSolver.VisitSolvable(left, Add);
        TermSolver.VisitSolvable(right, Add);
        return [.. result];
    }
}
