using AnchorBend.Compiler.Preparation;
using AnchorBend.Language;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Rules;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling;
using AnchorBend.Modeling.Flat;
using AnchorBend.Verification.Measures;

namespace AnchorBend.Verification.Temporal;

/// <summary>The states of a rule on a recorded run: comparisons and truths as terms, with their margins, units and limits.</summary>
sealed class StateTerms(PreparedModel prepared, RecordedTerms recorded, MeasureScope scope)
{
    readonly Dictionary<State, Term> terms = new(ReferenceEqualityComparer.Instance);

    readonly Dictionary<(Term, bool IsNot), IReadOnlyList<(string Signal, double Value, bool IsUpper)>> limits = [];

    Interval Run => recorded.Recorded;

    /// <summary>How far a state holds over the run, or is from holding.</summary>
    public Broken Margin(State state) => OfTerm(Of(state));

    /// <summary>The variable whose unit its margin has; −1 where nothing tells.</summary>
    public int VariableOf(State state) => VariableOf(Of(state));

    /// <exception cref="LanguageException">It cannot be read.</exception>
    public Term Of(State state)
    {
        if (terms.TryGetValue(state, out var known))
            return known;
        var expression = Parser.ParseMeasure(RuleParser.Plain(state.Text));
        var bound = new Binder(scope, withoutEvents: true).Bind(expression);
        if (bound.Type != ScalarType.Boolean)
            throw new LanguageException(
                "argument",
                $"'{state.Text}' is a value; a condition is needed here.",
                expression.At,
                "Compare it, such as depth > 12 m."
            );
        var term = bound.ScalarTerm(expression.At);
        foreach (var element in bound.Elements)
            scope.DimensionOf(element, expression.At);
        return terms[state] = term;
    }

    Broken OfTerm(Term term)
    {
        switch (term)
        {
            case ConstantTerm c:
                return Broken.Constant(Run.From, Run.To, c.Value != 0 ? double.PositiveInfinity : double.NegativeInfinity);
            case OperationTerm { Kind: Operator.Not } o:
                return OfTerm(o.Left).Negated();
            case OperationTerm { Kind: Operator.And } o:
                return Broken.Least(OfTerm(o.Left), OfTerm(o.Right));
            case OperationTerm { Kind: Operator.Or } o:
                return Broken.Largest(OfTerm(o.Left), OfTerm(o.Right));
            case RelationTerm r:
                return Compared(r.Kind, r.Left, r.Right);
            case OperationTerm { Kind: >= Operator.Less and <= Operator.NotEqual } o:
                return Compared(o.Kind, o.Left, o.Right);
            default:
                return Truth(recorded.Curve(term), v => v != 0);
        }
    }

    static Broken Truth(Curve curve, Func<double, bool> holds) =>
        Broken.Held(curve.Times, Array.ConvertAll(curve.Values, v => holds(v) ? double.PositiveInfinity : double.NegativeInfinity));

    Broken Compared(Operator kind, Term left, Term right)
    {
        var (a, b) = (recorded.Curve(left), recorded.Curve(right));
        var difference = new double[a.Values.Length];
        for (var i = 0; i < difference.Length; i++)
            difference[i] = a.Values[i] - b.Values[i];
        if (Array.Exists(difference, double.IsNaN))
            throw new MeasureException("The run has gaps in a signal of this rule: values are missing.");
        // What must be larger and is equal does not hold: it misses by less than any number.
        if (kind is Operator.Greater or Operator.Less)
            for (var i = 0; i < difference.Length; i++)
                if (difference[i] == 0)
                    difference[i] = kind == Operator.Greater ? -double.Epsilon : double.Epsilon;
        var line = Broken.Through(a.Times, difference);
        switch (kind)
        {
            case Operator.Equal or Operator.NotEqual:
                var equal =
                    IsDiscrete(left) && IsDiscrete(right)
                        ? Truth(new Curve(a.Times, difference), d => d == 0)
                        : Broken.Least(line, line.Negated());
                return kind == Operator.Equal ? equal : equal.Negated();
            case Operator.Greater or Operator.GreaterOrEqual:
                return line;
            default:
                return line.Negated();
        }
    }

    /// <summary>Whether a term has whole values, which are alike or not, and nothing between.</summary>
    bool IsDiscrete(Term term) =>
        term switch
        {
            ConstantTerm c => c.Value == Math.Round(c.Value),
            VariableTerm v => v.Index < prepared.Model.Variables.Count && prepared.Model.Variables[v.Index].Type != ScalarType.Real,
            _ => false,
        };

    int VariableOf(Term term) =>
        term switch
        {
            RelationTerm r => SideOf(r.Left, r.Right),
            OperationTerm { Kind: >= Operator.Less and <= Operator.NotEqual } o => SideOf(o.Left, o.Right),
            OperationTerm { Kind: Operator.Not or Operator.And or Operator.Or } o => Math.Max(
                VariableOf(o.Left),
                VariableOf(o.Operands[^1])
            ),
            _ => -1,
        };

    /// <summary>The variable whose unit a comparison is read in: one that is a side itself, or that a side of the same kind is made
    /// of.</summary>
    int SideOf(Term left, Term right)
    {
        var sides = (Term[])[left, right];
        var known = prepared.Model.Variables.Count;
        if (sides.OfType<VariableTerm>().FirstOrDefault(v => v.Index < known && !IsTime(v)) is { } side)
            return side.Index;
        var kind = scope.DimensionOf(left, default) ?? scope.DimensionOf(right, default);
        foreach (var term in sides.SelectMany(Inner))
            if (term is VariableTerm v && v.Index < known && !IsTime(v) && kind is not null && scope.DimensionOf(v, default) == kind)
                return v.Index;
        return -1;
    }

    /// <summary>The limits that a state asks for, as far as one signal each is compared with a number; of claims of which one is enough
    /// there are none.</summary>
    /// <param name="isNot">Whether its opposite is asked for.</param>
    public IReadOnlyList<(string Signal, double Value, bool IsUpper)> LimitsOf(State state, bool isNot)
    {
        if (limits.TryGetValue((Of(state), isNot), out var known))
            return known;
        var found = new List<(string, double, bool)>();
        var open = new Stack<(Term Term, bool IsNot)>([(Of(state), isNot)]);
        while (open.TryPop(out var next))
        {
            var (term, not) = next;
            if (term is OperationTerm { Kind: Operator.Not } o)
                open.Push((o.Left, !not));
            else if (term is OperationTerm { Kind: Operator.And or Operator.Or } all)
            {
                if (not == (all.Kind == Operator.Or))
                    foreach (var operand in all.Operands)
                        open.Push((operand, not));
            }
            else if (term is RelationTerm r)
                Compare(r.Kind, r.Left, r.Right, not);
            else if (term is OperationTerm c)
                Compare(c.Kind, c.Left, c.Right, not);
        }

        return limits[(Of(state), isNot)] = found;

        void Compare(Operator kind, Term left, Term right, bool not)
        {
            if (kind is not (Operator.Less or Operator.LessOrEqual or Operator.Greater or Operator.GreaterOrEqual))
                return;
            var isUpper = (kind is Operator.Less or Operator.LessOrEqual) != not;
            if (NumberOf(right) is { } limit && SignalOf(left) is { } signal)
                found.Add((signal, limit, isUpper));
            else if (NumberOf(left) is { } other && SignalOf(right) is { } second)
                found.Add((second, other, !isUpper));
        }

        string? SignalOf(Term term) =>
            term is VariableTerm v && v.Index < prepared.Model.Variables.Count && !IsTime(v) ? prepared.RecordedName(v.Index) : null;

        double? NumberOf(Term term) =>
            recorded.Curve(term).Values is { Length: > 0 } values && Array.TrueForAll(values, x => x == values[0]) ? values[0] : null;
    }

    static bool IsTime(VariableTerm term) => term.Index == FlatModel.TimeIndex;

    static List<Term> Inner(Term term)
    {
        List<Term> found = [term];
        foreach (var operand in term.Operands)
            found.AddRange(Inner(operand));
        return found;
    }
}
