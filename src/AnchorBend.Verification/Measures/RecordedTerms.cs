using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Recording;

namespace AnchorBend.Verification.Measures;

/// <summary>Expressions over what a run recorded: their values row by row, and when they hold.</summary>
sealed class RecordedTerms(PreparedModel prepared, double[] parameters, Trace trace)
{
    readonly Dictionary<int, double[]> columns = [];
    readonly List<double> made = [];

    /// <summary>Makes a number known to terms, as a variable behind those of the model.</summary>
    /// <returns>Its index.</returns>
    public int Made(double value)
    {
        made.Add(value);
        return prepared.Model.Variables.Count + made.Count - 1;
    }

    /// <summary>Begins another expression: what was made for the one before goes, what was read stays.</summary>
    public void Forget()
    {
        for (var i = 0; i < made.Count; i++)
            columns.Remove(prepared.Model.Variables.Count + i);
        made.Clear();
    }

    /// <summary>Times of the rows; equal neighbours are the sides of an event.</summary>
    public double[] Times { get; } = [.. trace.Times];

    /// <summary>The recorded part of the run.</summary>
    public Interval Recorded => Times.Length == 0 ? new Interval(0, -1) : new Interval(Times[0], Times[^1]);

    /// <exception cref="LanguageException">Something in it was not recorded.</exception>
    public Curve Curve(Term term) => new(Times, Values(term));

    double[] Values(Term term)
    {
        if (term is VariableTerm { Index: var only })
            return Column(only);
        foreach (var variable in VariablesOf(term))
            Column(variable);
        var row = 0;
        var evaluator = new TermEvaluator(i => columns[i][row]);
        var values = new double[Times.Length];
        var budget = WorkBudget.Current;
        for (; row < values.Length; row++)
        {
            if ((row & 0xFFF) == 0)
                budget.Check();
            values[row] = evaluator.Evaluate(term);
        }

        return values;
    }

    static HashSet<int> VariablesOf(Term term)
    {
        var found = new HashSet<int>();
        var open = new Stack<Term>([term]);
        while (open.TryPop(out var next))
        {
            if (next is VariableTerm v)
                found.Add(v.Index);
            foreach (var operand in next.Operands)
                open.Push(operand);
        }

        return found;
    }

    double[] Column(int index)
    {
        if (columns.TryGetValue(index, out var known))
            return known;
        return columns[index] = Read(index);
    }

    double[] Read(int index)
    {
        if (index == FlatModel.TimeIndex)
            return Times;
        if (index >= prepared.Model.Variables.Count)
            return Constant(made[index - prepared.Model.Variables.Count]);
        var variable = prepared.Model.Variables[index];
        return RecordedSignal.Has(prepared, trace, variable)
            ? RecordedSignal.Values(prepared, parameters, trace, variable)
            : throw new LanguageException(
                "not-recorded",
                $"{variable.Name} was not recorded in this run.",
                default,
                "Run it again with it kept."
            );
    }

    double[] Constant(double value)
    {
        var values = new double[Times.Length];
        Array.Fill(values, value);
        return values;
    }

    /// <summary>
    /// When a condition holds. Between rows the sides of a comparison go in straight lines, so it turns where those meet; everything else
    /// keeps its value until the next row.
    /// </summary>
    public List<Interval> Holds(Term condition)
    {
        if (Times.Length == 0)
            return [];
        switch (condition)
        {
            case ConstantTerm c:
                return c.Value != 0 ? [Recorded] : [];
            case OperationTerm { Kind: Operator.Not } o:
                return Intervals.Outside(Holds(o.Left), Recorded);
            case OperationTerm { Kind: Operator.And } o:
                return Intervals.Both(Holds(o.Left), Holds(o.Right));
            case OperationTerm { Kind: Operator.Or } o:
                return Intervals.Either(Holds(o.Left), Holds(o.Right));
            case RelationTerm r:
                return Holds(r.Kind, r.Left, r.Right);
            case OperationTerm { Kind: >= Operator.Less and <= Operator.NotEqual } o:
                return Holds(o.Kind, o.Left, o.Right);
            default:
                return Held(Values(condition), v => v != 0);
        }
    }

    List<Interval> Held(double[] values, Func<double, bool> holds)
    {
        var result = new List<Interval>();
        for (var i = 0; i + 1 < values.Length; i++)
            if (Times[i + 1] > Times[i] && holds(values[i]))
                Intervals.Join(result, new Interval(Times[i], Times[i + 1]));
        return WithEnd(result, holds(values[^1]));
    }

    /// <summary>The last row stands for an instant: one that turns there holds at it alone.</summary>
    List<Interval> WithEnd(List<Interval> set, bool holds)
    {
        if (holds)
            Intervals.Join(set, new Interval(Times[^1], Times[^1]));
        return set;
    }

    List<Interval> Holds(Operator kind, Term left, Term right)
    {
        double[] a = Values(left),
            b = Values(right);
        var difference = new double[a.Length];
        for (var i = 0; i < a.Length; i++)
            difference[i] = a[i] - b[i];
        return kind switch
        {
            Operator.Equal => Held(difference, d => d == 0),
            Operator.NotEqual => Held(difference, d => d != 0),
            Operator.Greater => Above(difference, false),
            Operator.GreaterOrEqual => Above(difference, true),
            Operator.LessOrEqual => Above(Negative(difference), true),
            _ => Above(Negative(difference), false),
        };
    }

    static double[] Negative(double[] values) => Array.ConvertAll(values, v => -v);

    /// <summary>Where a broken line lies above zero; where it only touches zero, it does so where equality counts.</summary>
    List<Interval> Above(double[] line, bool orEqual)
    {
        var result = new List<Interval>();
        for (var i = 0; i + 1 < line.Length; i++)
        {
            double a = line[i],
                b = line[i + 1],
                highest = Math.Max(a, b);
            if (Times[i + 1] <= Times[i] || !(orEqual ? highest >= 0 : highest > 0))
                continue;
            var zero = Times[i] + (Times[i + 1] - Times[i]) * (a / (a - b));
            Intervals.Join(result, new Interval(a < 0 ? zero : Times[i], b < 0 ? zero : Times[i + 1]));
        }

        return WithEnd(result, orEqual ? line[^1] >= 0 : line[^1] > 0);
    }
}
