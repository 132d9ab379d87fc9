using AnchorBend.Compiler.Lowering;

namespace AnchorBend.Delivery;

/// <summary>Puts other code in the place of code; what a rewriting does not speak of stays, with what is in it rewritten.</summary>
abstract class CodeRewriting
{
    public virtual Code Of(Code code) =>
        code switch
        {
            LetCode l => l with { Value = Of(l.Value) },
            OperationCode o => o with { Left = Of(o.Left), Right = o.Right is { } right ? Of(right) : null },
            PowerCode p => p with { Operand = Of(p.Operand) },
            ChooseCode c => c with { Condition = Of(c.Condition), Then = Of(c.Then), Otherwise = Of(c.Otherwise) },
            TruthCode t => t with { Condition = Of(t.Condition) },
            TableCode t => t with { Abscissa = Of(t.Abscissa) },
            _ => code,
        };

    public virtual Test Of(Test test) =>
        test switch
        {
            NotTest n => n with { Operand = Of(n.Operand) },
            AndTest a => a with { Left = Of(a.Left), Right = Of(a.Right) },
            OrTest o => o with { Left = Of(o.Left), Right = Of(o.Right) },
            CompareTest c => c with { Left = Of(c.Left), Right = Of(c.Right) },
            NonZeroTest z => z with { Value = Of(z.Value) },
            HeldTest h => h with { Anew = Of(h.Anew) },
            _ => test,
        };
}

/// <summary>Reads locals that were set before.</summary>
sealed class LetsBefore : CodeRewriting
{
    readonly HashSet<int> set = [];

    public override Code Of(Code code) => code is LetCode let && set.Contains(let.Local) ? new LocalCode(let.Local) : base.Of(code);

    /// <summary>Statements that set the locals of lets, those within others first.</summary>
    public static IEnumerable<Statement> Of(IEnumerable<LetCode> lets)
    {
        var before = new LetsBefore();
        foreach (var let in lets)
        {
            yield return new LocalStatement(let.Local, before.Of(let.Value));
            before.set.Add(let.Local);
        }
    }
}
