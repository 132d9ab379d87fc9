using AnchorBend.Compiler.Analysis;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Compiler.Planning;

/// <summary>
/// Equations written as <c>M · dy/dt = f</c> with a singular mass matrix <c>M</c> hide constraints: a capacitor between two nodes stands
/// in both nodes' balances, whose sum holds no derivative. Sorting looks at structure alone and cannot see it, so a dependent row is
/// replaced here by the combination of rows in which the derivatives cancel (Hairer and Wanner, Solving Ordinary Differential Equations
/// II, section VI.1).
/// </summary>
static class SingularMassMatrix
{
    /// <summary>Rows that hang together through their derivatives; the elimination is dense.</summary>
    const int MostRows = 300;

    /// <summary>What is left of a row's largest coefficient where the row vanishes but for rounding.</summary>
    const double Vanishing = 1e-12;

    /// <summary>Largest whole weight of a row.</summary>
    const int LargestWeight = 12;

    sealed record Row(int Equation, int[] Rates, Term[] Factors);

    public static void Run(FlatModel model, List<(Term Left, Term Right, string Owner, Position At)> equations)
    {
        var rows = new List<Row>();
        for (var e = 0; e < equations.Count; e++)
            if (RowOf(model, equations, e) is { } row)
                rows.Add(row);
        if (rows.All(r => r.Rates.Length < 2))
            return;
        foreach (var group in Groups(rows))
            if (group.Count is >= 2 and <= MostRows && group.Any(r => r.Rates.Length > 1))
                Replace(model, equations, group);
    }

    /// <summary>The equation's derivatives with their factors, or null where it holds none or one with a factor that may change during a
    /// run.</summary>
    static Row? RowOf(FlatModel model, List<(Term Left, Term Right, string Owner, Position At)> equations, int e)
    {
        var rates = new List<int>();
        void Note(int v)
        {
            if (model.Variables[v].DerivativeOf >= 0 && !rates.Contains(v))
                rates.Add(v);
        }

        var (left, right, _, _) = equations[e];
        TermBuilder.VisitVariables(left, Note);
        TermBuilder.VisitVariables(right, Note);
        if (rates.Count == 0 || !IsLinear(left, rates) || !IsLinear(right, rates))
            return null;
        var residual = TermBuilder.Subtract(left, right);
        var factors = rates.Select(r => TermDerivative.Partial(residual, r)).ToArray();
        return Array.TrueForAll(factors, f => Dependence.OnParameters(f, model)) ? new Row(e, [.. rates], factors) : null;
    }

    /// <summary>Whether a term holds the derivatives in sums and products alone: a condition on one of them has a slope of zero, but is no
    /// part of a row.</summary>
    static bool IsLinear(Term term, List<int> rates)
    {
        bool Has(Term t) => TermBuilder.Any(t, l => l is VariableTerm v && rates.Contains(v.Index));
        return !Has(term)
            || term switch
            {
                VariableTerm => true,
                OperationTerm { Kind: Operator.Negate } o => IsLinear(o.Left, rates),
                OperationTerm { Kind: Operator.Add or Operator.Subtract } o => IsLinear(o.Left, rates) && IsLinear(o.Right, rates),
                OperationTerm { Kind: Operator.Multiply } o => Has(o.Left)
                    ? !Has(o.Right) && IsLinear(o.Left, rates)
                    : IsLinear(o.Right, rates),
                OperationTerm { Kind: Operator.Divide } o => !Has(o.Right) && IsLinear(o.Left, rates),
                _ => false,
            };
    }

    static IEnumerable<List<Row>> Groups(List<Row> rows)
    {
        var byRate = rows.SelectMany(r => r.Rates.Select(v => (Rate: v, Row: r))).ToLookup(p => p.Rate, p => p.Row);
        var seen = new HashSet<Row>();
        foreach (var first in rows)
        {
            if (!seen.Add(first))
                continue;
            List<Row> group = [first];
            for (var i = 0; i < group.Count; i++)
                foreach (var rate in group[i].Rates)
                foreach (var next in byRate[rate])
                    if (seen.Add(next))
                        group.Add(next);
            yield return group;
        }
    }

    static void Replace(FlatModel model, List<(Term Left, Term Right, string Owner, Position At)> equations, List<Row> group)
    {
        group.Sort((a, b) => a.Equation.CompareTo(b.Equation));
        int[] columns = [.. group.SelectMany(r => r.Rates).Distinct().Order()];
        var given = Values(model, group, columns, 0);
        foreach (var weights in Dependencies(given))
        {
            // Other values of the parameters must leave it so: the equations then say it, not the numbers of today.
            if (!Vanishes(weights, Values(model, group, columns, 1)) || !Vanishes(weights, Values(model, group, columns, 2)))
                continue;
            Term sum = Term.Zero;
            for (var r = 0; r < group.Count; r++)
                if (weights[r] != 0)
                    sum = TermBuilder.Add(
                        sum,
                        TermBuilder.Multiply(Term.Of(weights[r]), WithoutRates(equations[group[r].Equation], group[r].Rates))
                    );
            var last = group[Array.FindLastIndex(weights, w => w != 0)].Equation;
            equations[last] = (sum, Term.Zero, equations[last].Owner, equations[last].At);
        }
    }

    static Term WithoutRates((Term Left, Term Right, string Owner, Position At) equation, int[] rates) =>
        TermBuilder.Rewrite(TermBuilder.Subtract(equation.Left, equation.Right), leaf =>
            leaf is VariableTerm v && rates.Contains(v.Index) ? Term.Zero : leaf
        );

    /// <summary>Factors by row and derivative, for the parameters' values or for others near them.</summary>
    static double[][] Values(FlatModel model, List<Row> group, int[] columns, int variation)
    {
        var parameters = model.ParameterValues();
        for (var i = 0; i < parameters.Length; i++)
            parameters[i] *= 1 + variation * 0.31 * (i * 0.6180339887498949 % 1);
        var evaluator = new TermEvaluator(i => parameters[i]);
        return
        [
            .. group.Select(row =>
            {
                var values = new double[columns.Length];
                for (var i = 0; i < row.Rates.Length; i++)
                    values[Array.BinarySearch(columns, row.Rates[i])] = evaluator.Evaluate(row.Factors[i]);
                return values;
            }),
        ];
    }

    /// <summary>For each row that depends on rows before it, whole weights with which they cancel.</summary>
    static IEnumerable<double[]> Dependencies(double[][] matrix)
    {
        var rest = matrix.Select(r => (double[])r.Clone()).ToArray();
        var combination = matrix.Select((_, r) => matrix.Select((_, c) => r == c ? 1.0 : 0).ToArray()).ToArray();
        var pivots = new List<(int Row, int Column)>();
        for (var r = 0; r < rest.Length; r++)
        {
            foreach (var (row, column) in pivots)
            {
                var factor = rest[r][column] / rest[row][column];
                if (factor == 0)
                    continue;
                for (var c = 0; c < rest[r].Length; c++)
                    rest[r][c] -= factor * rest[row][c];
                for (var c = 0; c < rest.Length; c++)
                    combination[r][c] -= factor * combination[row][c];
                rest[r][column] = 0;
            }

            var size = rest[r].Max(Math.Abs);
            if (size > Vanishing * matrix[r].Max(Math.Abs))
            {
                pivots.Add((r, Array.FindIndex(rest[r], v => Math.Abs(v) == size)));
                continue;
            }

            var smallest = combination[r].Where(w => Math.Abs(w) > Vanishing).Min(Math.Abs);
            var whole = combination[r].Select(w => Math.Round(w / smallest)).ToArray();
            if (whole.All(w => Math.Abs(w) <= LargestWeight) && Vanishes(whole, matrix))
                yield return whole;
        }
    }

    static bool Vanishes(double[] weights, double[][] matrix)
    {
        for (var c = 0; c < matrix[0].Length; c++)
        {
            double sum = 0,
                size = 0;
            for (var r = 0; r < matrix.Length; r++)
            {
                sum += weights[r] * matrix[r][c];
                size = Math.Max(size, Math.Abs(weights[r] * matrix[r][c]));
            }

            if (!(Math.Abs(sum) <= Vanishing * size))
                return false;
        }

        return true;
    }
}
