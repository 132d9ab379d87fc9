using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>
/// Constraints of a reduced model that hang together: as many of their derivatives as there are differentiated equations become algebraic
/// unknowns, chosen so that the equations determine them well. The choice is made by pivoting on the equations' slopes and can be made
/// anew where the motion makes it a poor one.
/// </summary>
public sealed class StateChoice
{
    readonly int[] rows, times, candidates, depth;
    readonly Term[,] slopes;
    readonly double[] weights;
    readonly FlatModel model;

    StateChoice(FlatModel model, int[] rows, int[] times, int[] candidates, Term[,] slopes)
    {
        (this.model, this.rows, this.times, this.candidates, this.slopes) = (model, rows, times, candidates, slopes);
        depth = [.. candidates.Select(c => Depth(model, c))];
        weights = [.. candidates.Select(Weight)];
        for (var r = 0; r < rows.Length; r++)
            for (var c = 0; c < candidates.Length; c++)
                IsDynamic |= TermBuilder.Any(slopes[r, c], t => t is DelayTerm || t is VariableTerm v && model.Variables[v.Index].Role != VariableRole.Parameter);
    }

    /// <summary>Whether the slopes change during a run.</summary>
    public bool IsDynamic { get; }

    /// <summary>Highest derivatives to choose from.</summary>
    public IReadOnlyList<int> Candidates => candidates;

    static int Depth(FlatModel model, int variable)
    {
        var depth = 0;
        while ((variable = model.Variables[variable].DerivativeOf) >= 0) depth++;
        return depth;
    }

    /// <summary>Variables with a fixed start or a preference of the modeller rather stay states.</summary>
    double Weight(int candidate)
    {
        // The name that the modeller gave to a rate has its start value; the derivative that the reduction made has none.
        var weight = depth[Array.IndexOf(candidates, candidate)] > 1 ? 2.0 : 1.0;
        for (var v = model.Variables[candidate].DerivativeOf; v >= 0; v = model.Variables[v].DerivativeOf)
        {
            if (model.Variables[v].IsFixed) weight *= 0.3;
            else if (model.Variables[v].Start is not null) weight *= 0.6;
            weight *= model.Variables[v].Selection switch
            {
                StateSelection.Always => 1e-6, StateSelection.Prefer => 0.1, StateSelection.Avoid => 10, StateSelection.Never => 1e6, _ => 1,
            };
        }

        return weight;
    }

    /// <summary>The groups of differentiated equations that are solved together.</summary>
    internal static List<StateChoice> Find(FlatModel model, List<(Term Left, Term Right, string Owner, Position At)> equations, List<int> derivativeOf, List<int> derivative,
        List<int[]> candidates, Dictionary<int, int> equationOf)
    {
        var highest = Enumerable.Range(0, equations.Count).Where(e => derivative[e] < 0).ToArray();
        var place = new int[equations.Count];
        Array.Fill(place, -1);
        for (var i = 0; i < highest.Length; i++) place[highest[i]] = i;
        var variableOf = new int[equations.Count];
        foreach (var (variable, equation) in equationOf) variableOf[equation] = variable;
        var dependencies = highest.Select(e => candidates[e].Where(v => v != variableOf[e] && model.Variables[v].Derivative < 0 && equationOf.ContainsKey(v))
            .Select(v => place[equationOf[v]]).Where(p => p >= 0).ToArray()).ToArray();
        var result = new List<StateChoice>();
        foreach (var component in StrongComponents.Find(dependencies))
        {
            var rows = component.Select(c => highest[c]).Where(e => derivativeOf[e] >= 0).Order().ToArray();
            if (rows.Length == 0) continue;
            var times = rows.Select(e =>
            {
                var count = 0;
                for (var lower = derivativeOf[e]; lower >= 0; lower = derivativeOf[lower]) count++;
                return count;
            }).ToArray();
            var columns = component.Select(c => variableOf[highest[c]]).Where(v => model.Variables[v].DerivativeOf >= 0).Order().ToArray();
            var slopes = new Term[rows.Length, columns.Length];
            for (var r = 0; r < rows.Length; r++)
                for (var c = 0; c < columns.Length; c++)
                    slopes[r, c] = TermDerivative.Partial(TermBuilder.Subtract(equations[rows[r]].Left, equations[rows[r]].Right), columns[c]);
            result.Add(new StateChoice(model, rows, times, columns, slopes));
        }

        return result;
    }

    /// <summary>Chooses the derivatives that become algebraic.</summary>
    /// <param name="evaluate">The value of a slope now.</param>
    /// <returns>The chosen derivatives of all levels, and the logarithm of how well they are determined; null where the equations determine nothing.</returns>
    public (int[] Dummies, double Quality)? Choose(Func<Term, double> evaluate)
    {
        var matrix = Values(evaluate);
        var dummies = new List<int>();
        var columns = Enumerable.Range(0, candidates.Length).ToArray();
        var quality = 0.0;
        for (var level = 1; ; level++)
        {
            var active = Enumerable.Range(0, rows.Length).Where(r => times[r] >= level).ToArray();
            if (active.Length == 0) return ([.. dummies.Order()], quality);
            var open = columns.Where(c => depth[c] >= level).ToArray();
            if (Pivot(matrix, active, open, true) is not { } found) return null;
            columns = found.Columns;
            quality += found.Quality;
            foreach (var c in columns) dummies.Add(Lower(candidates[c], level - 1));
        }
    }

    /// <summary>How well a choice made before determines its derivatives now, to compare with <see cref="Choose"/>.</summary>
    public double QualityOf(IReadOnlySet<int> dummies, Func<Term, double> evaluate)
    {
        var matrix = Values(evaluate);
        var quality = 0.0;
        for (var level = 1; ; level++)
        {
            var active = Enumerable.Range(0, rows.Length).Where(r => times[r] >= level).ToArray();
            if (active.Length == 0) return quality;
            var chosen = Enumerable.Range(0, candidates.Length).Where(c => depth[c] >= level && dummies.Contains(Lower(candidates[c], level - 1))).ToArray();
            if (chosen.Length != active.Length || Pivot(matrix, active, chosen, false) is not { } found) return double.NegativeInfinity;
            quality += found.Quality;
        }
    }

    int Lower(int variable, int levels)
    {
        for (var i = 0; i < levels; i++) variable = model.Variables[variable].DerivativeOf;
        return variable;
    }

    double[,] Values(Func<Term, double> evaluate)
    {
        var matrix = new double[rows.Length, candidates.Length];
        for (var r = 0; r < rows.Length; r++)
        {
            var largest = 0.0;
            for (var c = 0; c < candidates.Length; c++)
            {
                var value = slopes[r, c].IsConstant(0) ? 0 : evaluate(slopes[r, c]);
                matrix[r, c] = double.IsFinite(value) ? value : 0;
                largest = Math.Max(largest, Math.Abs(matrix[r, c]));
            }

            // At a start of zeros nothing is known of the slopes but that they are there.
            for (var c = 0; c < candidates.Length; c++)
                matrix[r, c] = largest > 0 ? matrix[r, c] / largest : slopes[r, c].IsConstant(0) ? 0 : 1 + 0.01 * c;
        }

        return matrix;
    }

    /// <summary>Elimination with complete pivoting; preferences count for the choice of the column, not for the quality.</summary>
    (int[] Columns, double Quality)? Pivot(double[,] values, int[] active, int[] open, bool prefer)
    {
        var a = new double[active.Length, open.Length];
        for (var r = 0; r < active.Length; r++)
            for (var c = 0; c < open.Length; c++) a[r, c] = values[active[r], open[c]];
        var rowDone = new bool[active.Length];
        var columnDone = new bool[open.Length];
        var chosen = new List<int>();
        var quality = 0.0;
        for (var k = 0; k < active.Length; k++)
        {
            int row = -1, column = -1;
            var best = 1e-10;
            for (var r = 0; r < active.Length; r++)
                for (var c = 0; c < open.Length; c++)
                {
                    if (rowDone[r] || columnDone[c]) continue;
                    var size = Math.Abs(a[r, c]) * (prefer ? weights[open[c]] : 1);
                    if (size <= best || Math.Abs(a[r, c]) < 1e-10) continue;
                    (best, row, column) = (size, r, c);
                }

            if (row < 0) return null;
            (rowDone[row], columnDone[column]) = (true, true);
            chosen.Add(open[column]);
            quality += Math.Log(Math.Abs(a[row, column]));
            for (var r = 0; r < active.Length; r++)
            {
                if (rowDone[r]) continue;
                var factor = a[r, column] / a[row, column];
                for (var c = 0; c < open.Length; c++) a[r, c] -= factor * a[row, c];
            }
        }

        return ([.. chosen.Order()], quality);
    }
}
