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
    readonly int[] rows,
        times,
        candidates,
        depth;
    readonly Term[,] slopes;
    readonly double[] weights,
        startWeights;
    readonly FlatModel model;

    StateChoice(FlatModel model, int[] rows, int[] times, int[] candidates, Term[,] slopes)
    {
        (this.model, this.rows, this.times, this.candidates, this.slopes) = (model, rows, times, candidates, slopes);
        depth = [.. candidates.Select(c => Depth(model, c))];
        weights = [.. candidates.Select(c => Weight(c, 0.3))];
        startWeights = [.. candidates.Select(c => Weight(c, FixedAtStart))];
        for (var r = 0; r < rows.Length; r++)
        for (var c = 0; c < candidates.Length; c++)
            IsDynamic |= TermBuilder.Any(slopes[r, c], t =>
                t is DelayTerm || t is VariableTerm v && model.Variables[v.Index].Role != VariableRole.Parameter
            );
    }

    /// <summary>Whether the slopes change during a run.</summary>
    public bool IsDynamic { get; }

    /// <summary>Highest derivatives to choose from.</summary>
    public IReadOnlyList<int> Candidates => candidates;

    static int Depth(FlatModel model, int variable)
    {
        var depth = 0;
        while ((variable = model.Variables[variable].DerivativeOf) >= 0)
            depth++;
        return depth;
    }

    const double Nameless = 1e12;

    /// <summary>At the start a fixed value is worth that its variable is a state, even where others would be determined better.</summary>
    const double FixedAtStart = 0.01;

    /// <summary>Variables with a fixed start or a preference of the modeller rather stay states.</summary>
    double Weight(int candidate, double whereFixed)
    {
        // A rate that has no name but as the derivative of a state is no state itself: what the model calls it holds its start value.
        var weight = depth[Array.IndexOf(candidates, candidate)] > 1 ? Nameless : 1.0;
        for (var v = model.Variables[candidate].DerivativeOf; v >= 0; v = model.Variables[v].DerivativeOf)
        {
            if (model.Variables[v] is { IsFixed: true, IsFixedByDefault: false })
                weight *= whereFixed;
            else if (model.Variables[v].Start is not null)
                weight *= 0.6;
            weight *= model.Variables[v].Selection switch
            {
                StateSelection.Always => 1e-6,
                StateSelection.Prefer => 0.1,
                StateSelection.Avoid => 10,
                StateSelection.Never => 1e6,
                _ => 1,
            };
        }

        return weight;
    }

    /// <summary>The groups of differentiated equations that are solved together.</summary>
    internal static List<StateChoice> Find(
        FlatModel model,
        List<(Term Left, Term Right, string Owner, Position At)> equations,
        List<int> derivativeOf,
        List<int> derivative,
        List<int[]> candidates,
        Dictionary<int, int> equationOf
    )
    {
        var highest = Enumerable.Range(0, equations.Count).Where(e => derivative[e] < 0).ToArray();
        var place = new int[equations.Count];
        Array.Fill(place, -1);
        for (var i = 0; i < highest.Length; i++)
            place[highest[i]] = i;
        var variableOf = new int[equations.Count];
        foreach (var (variable, equation) in equationOf)
            variableOf[equation] = variable;
        var dependencies = highest
            .Select(e =>
                candidates[e]
                    .Where(v => v != variableOf[e] && model.Variables[v].Derivative < 0 && equationOf.ContainsKey(v))
                    .Select(v => place[equationOf[v]])
                    .Where(p => p >= 0)
                    .ToArray()
            )
            .ToArray();
        var result = new List<StateChoice>();
        foreach (var component in StrongComponents.Find(dependencies))
        {
            var rows = component.Select(c => highest[c]).Where(e => derivativeOf[e] >= 0).Order().ToArray();
            if (rows.Length == 0)
                continue;
            var times = rows.Select(e =>
                {
                    var count = 0;
                    for (var lower = derivativeOf[e]; lower >= 0; lower = derivativeOf[lower])
                        count++;
                    return count;
                })
                .ToArray();
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
    /// <returns>The chosen derivatives of all levels; null where the equations determine nothing.</returns>
    public int[]? Choose(Func<Term, double> evaluate, bool atStart = false)
    {
        var review = new Review(this, atStart);
        review.Read(evaluate);
        return double.IsNaN(review.BestQuality()) ? null : review.Best();
    }

    /// <summary>The states that a variable of this group depends on by its constraints, such as other speeds for a speed; none where it is
    /// not of this group.</summary>
    /// <param name="dummies">The derivatives that are algebraic now.</param>
    public IEnumerable<int> StatesBeside(int variable, int[] dummies)
    {
        var derivative = model.Variables[variable].Derivative;
        for (var level = 0; level < times.Max(); level++)
        {
            int[] rates = [.. Enumerable.Range(0, candidates.Length).Where(c => depth[c] > level).Select(c => Lower(candidates[c], level))];
            if (rates.Contains(derivative))
                return rates.Where(r => !dummies.Contains(r)).Select(r => model.Variables[r].DerivativeOf);
        }

        return [];
    }

    int Lower(int variable, int levels)
    {
        for (var i = 0; i < levels; i++)
            variable = model.Variables[variable].DerivativeOf;
        return variable;
    }

    /// <summary>Looks at a choice again and again during one run, without allocating.</summary>
    public sealed class Review
    {
        readonly StateChoice choice;

        /// <summary>For each level of differentiation the rows that were differentiated that often, and the columns that have such a
        /// level.</summary>
        readonly int[][] active,
            open;

        readonly int[][] chosen;
        readonly double[] matrix,
            work;
        readonly bool[] rowDone,
            columnDone;
        readonly double[] weights;

        public Review(StateChoice choice, bool atStart = false)
        {
            this.choice = choice;
            weights = atStart ? choice.startWeights : choice.weights;
            var (rows, columns) = (choice.rows.Length, choice.candidates.Length);
            var levels = choice.times.Max();
            active = [.. Enumerable.Range(1, levels).Select(l => Enumerable.Range(0, rows).Where(r => choice.times[r] >= l).ToArray())];
            open = [.. Enumerable.Range(1, levels).Select(l => Enumerable.Range(0, columns).Where(c => choice.depth[c] >= l).ToArray())];
            chosen = [.. active.Select(a => new int[a.Length])];
            (matrix, work, rowDone, columnDone) = (
                new double[rows * columns],
                new double[rows * columns],
                new bool[rows],
                new bool[columns]
            );
        }

        /// <summary>Takes the present slopes.</summary>
        public void Read(Func<Term, double> evaluate)
        {
            var n = choice.candidates.Length;
            for (var r = 0; r < choice.rows.Length; r++)
            {
                var row = matrix.AsSpan(r * n, n);
                var largest = 0.0;
                for (var c = 0; c < n; c++)
                {
                    var slope = choice.slopes[r, c];
                    var value = slope is ConstantTerm constant ? constant.Value : evaluate(slope);
                    row[c] = double.IsFinite(value) ? value : 0;
                    largest = Math.Max(largest, Math.Abs(row[c]));
                }

                // At a start of zeros nothing is known of the slopes but that they are there.
                for (var c = 0; c < n; c++)
                    row[c] =
                        largest > 0 ? row[c] / largest
                        : choice.slopes[r, c].IsConstant(0) ? 0
                        : 1 + 0.01 * c;
            }
        }

        /// <summary>Makes the best choice for these slopes.</summary>
        /// <returns>The logarithm of how well it determines the chosen ones; NaN where the equations determine nothing.</returns>
        public double BestQuality()
        {
            var quality = 0.0;
            for (var level = 0; level < active.Length; level++)
            {
                // What is lower was chosen higher up.
                var from = level == 0 ? open[0].AsSpan() : chosen[level - 1].AsSpan();
                quality += Pivot(active[level], from, level, chosen[level]);
                if (double.IsNaN(quality))
                    return quality;
            }

            return quality;
        }

        /// <summary>The derivatives of all levels that <see cref="BestQuality"/> chose.</summary>
        public int[] Best() =>
            [.. chosen.SelectMany((columns, level) => columns.Select(c => choice.Lower(choice.candidates[c], level))).Order()];

        /// <summary>The same for a choice made before; minus infinity where it does not determine them.</summary>
        public double QualityOf(HashSet<int> dummies)
        {
            Span<int> columns = stackalloc int[choice.candidates.Length];
            var quality = 0.0;
            for (var level = 0; level < active.Length; level++)
            {
                var count = 0;
                foreach (var c in open[level])
                    if (dummies.Contains(choice.Lower(choice.candidates[c], level)))
                        columns[count++] = c;
                if (count != active[level].Length)
                    return double.NegativeInfinity;
                quality += Pivot(active[level], columns[..count], level, []);
            }

            return double.IsNaN(quality) ? double.NegativeInfinity : quality;
        }

        /// <summary>Elimination with complete pivoting; preferences count where columns are chosen, not for the quality.</summary>
        double Pivot(int[] rows, ReadOnlySpan<int> columns, int level, Span<int> taken)
        {
            var (m, n, all) = (rows.Length, columns.Length, choice.candidates.Length);
            for (var r = 0; r < m; r++)
            for (var c = 0; c < n; c++)
                work[r * n + c] = matrix[rows[r] * all + columns[c]];
            rowDone.AsSpan().Clear();
            columnDone.AsSpan().Clear();
            for (var c = 0; c < n; c++)
                columnDone[c] = choice.depth[columns[c]] <= level;
            var quality = 1.0;
            for (var k = 0; k < m; k++)
            {
                int row = -1,
                    column = -1;
                var best = 1e-10;
                for (var r = 0; r < m; r++)
                {
                    if (rowDone[r])
                        continue;
                    for (var c = 0; c < n; c++)
                    {
                        var pure = Math.Abs(work[r * n + c]);
                        var size = taken.Length > 0 ? pure * weights[columns[c]] : pure;
                        if (size <= best || pure < 1e-10 || columnDone[c])
                            continue;
                        (best, row, column) = (size, r, c);
                    }
                }

                if (row < 0)
                    return double.NaN;
                (rowDone[row], columnDone[column]) = (true, true);
                if (taken.Length > 0)
                    taken[k] = columns[column];
                var pivot = work[row * n + column];
                quality *= Math.Abs(pivot);
                for (var r = 0; r < m; r++)
                {
                    if (rowDone[r])
                        continue;
                    var factor = work[r * n + column] / pivot;
                    if (factor == 0)
                        continue;
                    for (var c = 0; c < n; c++)
                        work[r * n + c] -= factor * work[row * n + c];
                }
            }

            taken.Sort();
            return Math.Log(quality);
        }
    }
}
