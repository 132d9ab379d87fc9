namespace AnchorBend.Language.Terms;

/// <summary>
/// The partial derivatives of one term along many variables. What does not hold a variable is passed over: of every subterm the lowest and
/// highest variable are known, and in long sums neighbours stand together, so one derivative of a sum of n terms costs about log n instead
/// of n. The results are those of <see cref="TermDerivative.Partial"/>.
/// </summary>
public sealed class PartialDerivatives
{
    readonly Term term;
    readonly Dictionary<Term, (int Low, int High)> spans = new(ReferenceEqualityComparer.Instance);

    public PartialDerivatives(Term term)
    {
        this.term = term;
        Span(term);
    }

    /// <summary>The partial derivative along a variable.</summary>
    public Term Along(int variable) =>
        TermDerivative.Of(
            term,
            leaf => leaf is VariableTerm v && v.Index == variable ? Term.One : Term.Zero,
            part => spans.TryGetValue(part, out var span) && (variable < span.Low || variable > span.High)
        );

    (int Low, int High) Span(Term part)
    {
        if (part is VariableTerm v)
            return (v.Index, v.Index);
        if (part.Operands.Length == 0)
            return (int.MaxValue, int.MinValue);
        if (spans.TryGetValue(part, out var known))
            return known;
        var (low, high) = (int.MaxValue, int.MinValue);
        foreach (var operand in part.Operands)
        {
            var (l, h) = Span(operand);
            (low, high) = (Math.Min(low, l), Math.Max(high, h));
        }

        return spans[part] = (low, high);
    }
}
