using AnchorBend.Compiler.Analysis;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using static AnchorBend.Language.Terms.TermBuilder;

namespace AnchorBend.Compiler.Planning;

/// <summary>Finds the relations of a plan and tells what can change each of them.</summary>
sealed class RelationCollector(FlatModel model, bool[] isState)
{
    public List<PlanRelation> Relations { get; } = [];

    public Dictionary<RelationTerm, int> Index { get; } = new(ReferenceEqualityComparer.Instance);

    public List<TimeTable> TimeTables { get; } = [];

    public Dictionary<string, int> HeldAbscissas { get; } = [];

    readonly Dictionary<string, int> byKey = [];

    public void Collect(PlanBlock block)
    {
        foreach (var term in block.Terms)
            if (term is SequenceTerm steps)
                sequences.Add(steps);
            else
                Collect(term, block.Owner);
    }

    readonly List<SequenceTerm> sequences = [];

    /// <summary>
    /// Steps run at events only, so what they compare makes none. What others watch is decided once for all: at its own crossing a value
    /// computed anew may lie on either side.
    /// </summary>
    public void CollectFromSteps()
    {
        foreach (var sequence in sequences)
        {
            var operands = sequence.Operands.ToArray();
            Term Outside(Term leaf) => leaf is OperandTerm a ? operands[a.Number] : leaf;
            foreach (var operand in operands)
                if (operand is RelationTerm relation)
                {
                    if (byKey.TryGetValue(relation.Key, out var same))
                        Index[relation] = same;
                    else
                        NoteTime(relation, relation);
                }

            foreach (var term in sequence.Sequence.Terms)
                Walk(term);

            void Walk(Term term)
            {
                if (term is RelationTerm relation)
                    NoteTime(relation, (RelationTerm)Replaced(relation, Outside));
                foreach (var inner in term.Operands)
                    Walk(inner);
            }
        }
    }

    /// <summary>Relations of steps that compare time with something: the instant from which on they hold, or up to which.</summary>
    public Dictionary<RelationTerm, (Term Instant, bool TrueAfter)> InSteps { get; } = new(ReferenceEqualityComparer.Instance);

    /// <param name="meant">The relation with what its operands stand for.</param>
    void NoteTime(RelationTerm relation, RelationTerm meant)
    {
        if (Classify(meant, "") is { Compare: { } instant, TrueAfter: var after })
            InSteps[relation] = (instant, after);
    }

    static Term Replaced(Term term, Func<Term, Term> leaf) =>
        term switch
        {
            RelationTerm r => new RelationTerm(r.Kind, Replaced(r.Left, leaf), Replaced(r.Right, leaf), r.Origin),
            OperationTerm { Operands.Length: 1 } o => new OperationTerm(o.Kind, Replaced(o.Left, leaf)),
            OperationTerm o => new OperationTerm(o.Kind, Replaced(o.Left, leaf), Replaced(o.Right, leaf)) { Origin = o.Origin },
            ConditionalTerm c => new ConditionalTerm(
                Replaced(c.Condition, leaf),
                Replaced(c.Then, leaf),
                Replaced(c.Otherwise, leaf),
                c.Origin
            ),
            _ => leaf(term),
        };

    public void Collect(Term term, string owner)
    {
        if (term is RelationTerm relation && !Index.ContainsKey(relation))
        {
            // The same comparison written twice is one event.
            var key = relation.Key;
            if (byKey.TryGetValue(key, out var same))
                Index[relation] = same;
            else
            {
                Index[relation] = byKey[key] = Relations.Count;
                Relations.Add(Classify(relation, owner));
            }
        }
        else if (term is TableTerm table && RateInTime(table.Abscissa) is { } rate && !TimeTables.Any(t => ReferenceEquals(t.Table, table)))
        {
            var key = table.Abscissa.Key;
            if (!HeldAbscissas.TryGetValue(key, out var held))
                HeldAbscissas[key] = held = HeldAbscissas.Count;
            TimeTables.Add(new TimeTable(table, rate, held));
        }

        foreach (var operand in term.Operands)
            Collect(operand, owner);
    }

    PlanRelation Classify(RelationTerm relation, string owner)
    {
        var difference = Subtract(relation.Left, relation.Right);
        if (!ChangesBetweenEvents(difference))
            return new PlanRelation(relation, RelationKind.Held, null, owner);
        if (OffsetFromTime(difference) is not { } rest)
            return new PlanRelation(relation, RelationKind.State, null, owner);
        var (factor, offset) = rest;
        var rising = relation.Kind is Operator.Greater or Operator.GreaterOrEqual;
        return new PlanRelation(relation, RelationKind.Time, Negate(Divide(offset, Term.Of(factor))), owner)
        {
            TrueAfter = rising == factor > 0,
        };
    }

    bool ChangesBetweenEvents(Term term)
    {
        switch (term)
        {
            case DelayTerm:
                return true;
            case VariableTerm v:
                return IsContinuous(v.Index);
            case TableTerm { Kind: TableKind.Steps or TableKind.RepeatingSteps } table when RateInTime(table.Abscissa) is not null:
                return false;
        }

        foreach (var operand in term.Operands)
            if (ChangesBetweenEvents(operand))
                return true;
        return false;
    }

    /// <summary>How fast an abscissa grows where it is time, scaled and shifted by what changes at events only; null where it is something
    /// else or may fall.</summary>
    Term? RateInTime(Term term)
    {
        if (!IsTimeAmongHeld(term))
            return null;
        var rate = TermDerivative.Partial(term, FlatModel.TimeIndex);
        var isKnown = Dependence.OnParameters(rate, model, Allowed.Relations);
        return isKnown && rate is not ConstantTerm { Value: not > 0 } ? rate : null;
    }

    bool IsTimeAmongHeld(Term term) =>
        Any(term, t => t is VariableTerm { Index: FlatModel.TimeIndex })
        && !Any(term, t =>
            t is DelayTerm or RelationTerm or ConditionalTerm or TableTerm or CallTerm
            || t is VariableTerm v && v.Index != FlatModel.TimeIndex && IsContinuous(v.Index)
        );

    bool IsContinuous(int variable) =>
        variable == FlatModel.TimeIndex
        || model.Variables[variable] is { Role: VariableRole.Continuous } or { IsFlowing: true }
        || isState[variable];

    /// <summary>For a term <c>factor · time + offset</c> with an offset that changes at events only: both; null otherwise.</summary>
    (double Factor, Term Offset)? OffsetFromTime(Term term)
    {
        if (!IsTimeAmongHeld(term))
            return null;
        if (TermDerivative.Partial(term, FlatModel.TimeIndex) is not ConstantTerm { Value: not 0 } factor)
            return null;
        return (factor.Value, Rewrite(term, leaf => leaf is VariableTerm { Index: FlatModel.TimeIndex } ? Term.Zero : leaf));
    }
}
