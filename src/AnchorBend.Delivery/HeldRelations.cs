using AnchorBend.Compiler.Lowering;

namespace AnchorBend.Delivery;

/// <summary>Functions that run within a step read relations as they were decided at its beginning.</summary>
sealed class HeldRelations : CodeRewriting
{
    /// <summary>What is set on the way to a decision may be read later on.</summary>
    readonly List<LetCode> lets = [];

    public static CBody Of(CBody body) => new([.. body.Statements.SelectMany(s => Held(s.Statement).Select(h => (s.Routine, h)))]);

    static IEnumerable<Statement> Held(Statement statement)
    {
        var held = new HeldRelations();
        Statement rest = statement switch
        {
            StoreStatement s => s with { Value = held.Of(s.Value) },
            LocalStatement l => l with { Value = held.Of(l.Value) },
            ResultStatement r => r with { Value = held.Of(r.Value) },
            IfStatement i => i with
            {
                Condition = held.Of(i.Condition),
                Then = [.. i.Then.SelectMany(Held)],
                Otherwise = [.. i.Otherwise.SelectMany(Held)],
            },
            _ => statement,
        };
        return [.. LetsBefore.Of(held.lets), rest];
    }

    public override Test Of(Test test)
    {
        if (test is not HeldTest held)
            return base.Of(test);
        lets.AddRange(CFunctions.All(held.Anew).OfType<LetCode>());
        return new NonZeroTest(new PlaceCode(Space.Memory, held.Place));
    }
}
