using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Lowering;

/// <summary>Conditions become tests, so that only what is needed is computed.</summary>
sealed partial class TermLowering
{
    /// <summary>Whether a condition holds.</summary>
    public Test Holds(Term term)
    {
        // What a condition needs is not always computed: one part may decide alone, and a relation may be held.
        conditions++;
        var test = TestOf(term);
        conditions--;
        return test;
    }

    Test TestOf(Term term) =>
        term switch
        {
            OperandTerm a => Holds(Steps.Operands[a.Number]),
            OperationTerm { Kind: Operator.Not } o => new NotTest(Holds(o.Left)),
            OperationTerm { Kind: Operator.And } o => new AndTest(Holds(o.Left), Holds(o.Right), o.Origin),
            OperationTerm { Kind: Operator.Or } o => new OrTest(Holds(o.Left), Holds(o.Right), o.Origin),
            OperationTerm { Kind: >= Operator.Less and <= Operator.NotEqual } o when !IsHoisted(o) => new CompareTest(
                o.Kind,
                Value(o.Left),
                Value(o.Right)
            ),
            RelationTerm r when plan.RelationIndex.TryGetValue(r, out var index) => Relation(index, r.Origin),
            RelationTerm r when plan.StepRelations.TryGetValue(r, out var time) => After(time.Instant, time.TrueAfter) with
            {
                Origin = r.Origin,
            },
            RelationTerm r when !IsHoisted(r) => new CompareTest(r.Kind, Value(r.Left), Value(r.Right), r.Origin),
            _ => new NonZeroTest(Value(term)),
        };

    /// <summary>At the instant itself the side counts on which the run goes on.</summary>
    CompareTest After(Term instant, bool isAfter) => new(isAfter ? Operator.GreaterOrEqual : Operator.Less, new TimeCode(), Value(instant));

    /// <summary>A relation takes a new value in event mode and keeps the one in memory otherwise.</summary>
    HeldTest Relation(int index, Origin? origin)
    {
        var relation = plan.Relations[index];
        return new HeldTest(
            layout.RelationBase + index,
            relation.Compare is { } instant
                ? After(instant, relation.TrueAfter)
                : new CompareTest(relation.Term.Kind, Value(relation.Term.Left), Value(relation.Term.Right)),
            origin
        );
    }
}
