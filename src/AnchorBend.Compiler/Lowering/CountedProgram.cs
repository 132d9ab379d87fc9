using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Lowering;

/// <summary>How often something came out each way, or was done.</summary>
/// <param name="Place">Where in memory it is counted how often it did not hold; behind that, how often it held. Of an assignment only the
/// second is used.</param>
public sealed record Counter(Origin Origin, int Place);

/// <summary>
/// A program that counts what it decides and does, and computes the same: every decision, condition and assignment with an origin gets a
/// counter. All evaluations count, those within steps and while loops are solved too. What several places of a text come to share is
/// counted under the first of them.
/// </summary>
public sealed class CountedProgram
{
    readonly MemoryLayout layout;
    readonly Dictionary<Origin, Counter> counters = [];

    /// <param name="layout">Gets room for the counters.</param>
    public CountedProgram(LoweredProgram program, MemoryLayout layout)
    {
        this.layout = layout;
        Program = new LoweredProgram
        {
            Chunks = [.. program.Chunks.Select(Counted)],
            IsForDerivatives = program.IsForDerivatives,
            EventIndicators = program.EventIndicators,
            IndicatorsAndSlopes = program.IndicatorsAndSlopes,
            // Derivatives decide nothing that the residuals do not.
            Loops =
            [
                .. program.Loops.Select(l => l with { Residuals = [.. l.Residuals.Select(r => r with { Routine = Counted(r.Routine) })] }),
            ],
        };
    }

    public LoweredProgram Program { get; }

    public IReadOnlyCollection<Counter> Counters => counters.Values;

    Counter CounterOf(Origin origin)
    {
        if (!counters.TryGetValue(origin, out var counter))
            counters[origin] = counter = new Counter(origin, layout.Reserve(2));
        return counter;
    }

    Routine Counted(Routine routine) => routine with { Body = Counted(routine.Body) };

    IReadOnlyList<Statement> Counted(IReadOnlyList<Statement> body) => [.. body.SelectMany(Counted)];

    IEnumerable<Statement> Counted(Statement statement)
    {
        switch (statement)
        {
            case StoreStatement { Origin: { } origin } s:
                yield return new CountStatement(CounterOf(origin).Place + 1);
                yield return s with
                {
                    Value = Counted(s.Value),
                };
                break;
            case StoreStatement s:
                yield return s with
                {
                    Value = Counted(s.Value),
                };
                break;
            case LocalStatement l:
                yield return l with
                {
                    Value = Counted(l.Value),
                };
                break;
            case ResultStatement r:
                yield return r with
                {
                    Value = Counted(r.Value),
                };
                break;
            case GuardStatement g:
                yield return g with
                {
                    Body = Counted(g.Body),
                };
                break;
            case IfStatement i:
                yield return i with
                {
                    Condition = Counted(i.Condition, i.Origin),
                    Then = Counted(i.Then),
                    Otherwise = Counted(i.Otherwise),
                };
                break;
            default:
                yield return statement;
                break;
        }
    }

    Code Counted(Code code) =>
        code switch
        {
            LetCode l => l with { Value = Counted(l.Value) },
            OperationCode o => o with { Left = Counted(o.Left), Right = o.Right is { } right ? Counted(right) : null },
            PowerCode p => p with { Operand = Counted(p.Operand) },
            ChooseCode c => c with { Condition = Counted(c.Condition, c.Origin), Then = Counted(c.Then), Otherwise = Counted(c.Otherwise) },
            TruthCode t => t with { Condition = Counted(t.Condition, null) },
            DelayCode d => d with { Duration = d.Duration is { } duration ? Counted(duration) : null },
            TableCode t => t with { Abscissa = Counted(t.Abscissa) },
            _ => code,
        };

    /// <param name="decision">What the test decides; null where it is a part of something.</param>
    Test Counted(Test test, Origin? decision)
    {
        Test counted = test switch
        {
            CompareTest c => WithCounter(c with { Left = Counted(c.Left), Right = Counted(c.Right) }, c.Origin),
            NotTest n => new NotTest(Counted(n.Operand, null)),
            AndTest a => new AndTest(Counted(a.Left, null), Counted(a.Right, null)),
            OrTest o => new OrTest(Counted(o.Left, null), Counted(o.Right, null)),
            NonZeroTest z => new NonZeroTest(Counted(z.Value)),
            // What is held counts as often as it is asked, not as often as it is decided anew.
            HeldTest h => WithCounter(h, h.Origin),
            _ => test,
        };
        return WithCounter(counted, decision);
    }

    Test WithCounter(Test test, Origin? origin) => origin is null ? test : new CountedTest(CounterOf(origin).Place, test);
}
