using AnchorBend.Language.Terms;

namespace AnchorBend.Compiler.Lowering;

/// <summary>How often something came out each way, or was done.</summary>
/// <param name="Place">Where in memory it is counted how often it did not hold; behind that, how often it held. Of an assignment only the
/// second is used.</param>
/// <param name="CountsTurns">Whether there is more, as <see cref="CountedTest"/> has it.</param>
public sealed record Counter(Origin Origin, int Place, bool CountsTurns);

/// <summary>How often each way came by in which several conditions came out together.</summary>
/// <param name="Origin">Where they were put together.</param>
/// <param name="Place">The first of twice 3 to the power of their number of places, as <see cref="VectorTest"/> has them; the first
/// condition is the last digit.</param>
public sealed record VectorCounter(Origin Origin, int Place, int Conditions);

/// <summary>How often a table was read in each of its intervals.</summary>
/// <param name="Place">The first of one place more than there are knots.</param>
/// <param name="Knots">Where these lie.</param>
public sealed record TableCounter(Origin Origin, int Place, int Knots, int Count);

/// <summary>
/// A program that counts what it decides and does, and computes the same: every decision, condition and assignment with an origin gets a
/// counter. All evaluations count, those within steps and while loops are solved too. What several places of a text come to share is
/// counted under the first of them.
/// </summary>
public sealed class CountedProgram
{
    readonly MemoryLayout layout;

    /// <summary>With more conditions than these nobody could say each way.</summary>
    const int MostConditions = 6;

    /// <summary>Tables with more knots are recordings.</summary>
    const int MostKnots = 100;

    readonly Dictionary<Origin, Counter> counters = [];
    readonly Dictionary<(Origin, int Conditions), VectorCounter> vectors = [];
    readonly Dictionary<Origin, TableCounter> tables = [];

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

    public IReadOnlyCollection<VectorCounter> Vectors => vectors.Values;

    public IReadOnlyCollection<TableCounter> Tables => tables.Values;

    Counter CounterOf(Origin origin)
    {
        if (!counters.TryGetValue(origin, out var counter))
        {
            // A relation is also asked whether it came by its border.
            var isRelation = origin.Kind == OriginKind.Condition;
            counters[origin] = counter = new Counter(origin, layout.Reserve(isRelation ? 5 : 2), isRelation);
        }

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
            CallCode f => f with { Operands = [.. f.Operands.Select(Counted)] },
            TableCode t => t with { Abscissa = Counted(t.Abscissa), Counts = CountsOf(t) },
            _ => code,
        };

    /// <param name="decision">What the test decides; null where it is a part of something.</param>
    Test Counted(Test test, Origin? decision)
    {
        if (Combined(test) is { } together && NumberOfConditions(test) is >= 2 and <= MostConditions and var count)
        {
            var weight = 1;
            var key = (together, count);
            if (!vectors.TryGetValue(key, out var vector))
                vectors[key] = vector = new VectorCounter(together, layout.Reserve(2 * (int)Math.Pow(3, count)), count);
            return WithCounter(new VectorTest(vector.Place, Noted(test, ref weight)), decision ?? together);
        }

        Test counted = test switch
        {
            CompareTest c => WithCounter(c with { Left = Counted(c.Left), Right = Counted(c.Right) }, c.Origin),
            NotTest n => new NotTest(Counted(n.Operand, null)),
            AndTest a => a with { Left = Counted(a.Left, null), Right = Counted(a.Right, null) },
            OrTest o => o with { Left = Counted(o.Left, null), Right = Counted(o.Right, null) },
            NonZeroTest z => new NonZeroTest(Counted(z.Value)),
            // What is held counts as often as it is asked, not as often as it is decided anew.
            HeldTest h => WithCounter(h with { Anew = Counted(h.Anew, null) }, h.Origin),
            _ => test,
        };
        return WithCounter(counted, decision);
    }

    Test WithCounter(Test test, Origin? origin) =>
        origin is null ? test
        : CounterOf(origin) is var c ? new CountedTest(c.Place, test, c.CountsTurns)
        : test;

    /// <summary>Where the conditions of a test were put together; null where there is only one, or nobody wrote them together.</summary>
    static Origin? Combined(Test test) =>
        test switch
        {
            NotTest n => Combined(n.Operand),
            AndTest a => a.Origin,
            OrTest o => o.Origin,
            _ => null,
        };

    static int NumberOfConditions(Test test) =>
        test switch
        {
            NotTest n => NumberOfConditions(n.Operand),
            AndTest a => NumberOfConditions(a.Left) + NumberOfConditions(a.Right),
            OrTest o => NumberOfConditions(o.Left) + NumberOfConditions(o.Right),
            _ => 1,
        };

    /// <summary>A test whose conditions note how they came out, each as a digit of its own.</summary>
    Test Noted(Test test, ref int weight)
    {
        switch (test)
        {
            case NotTest n:
                return new NotTest(Noted(n.Operand, ref weight));
            case AndTest a:
                return a with { Left = Noted(a.Left, ref weight), Right = Noted(a.Right, ref weight) };
            case OrTest o:
                return o with { Left = Noted(o.Left, ref weight), Right = Noted(o.Right, ref weight) };
            default:
                var noted = new NotedTest(weight, Counted(test, null));
                weight *= 3;
                return noted;
        }
    }

    /// <summary>Where it is counted in which intervals a table is read; −1 for what repeats, has no place in a text or too many.</summary>
    int CountsOf(TableCode table)
    {
        if (table is not { Origin: { } origin, Slope: false, Kind: TableKind.Linear or TableKind.Steps, Count: <= MostKnots })
            return -1;
        if (!tables.TryGetValue(origin, out var counter) || counter.Knots != table.Place)
            tables[origin] = counter = new TableCounter(origin, layout.Reserve(table.Count + 1), table.Place, table.Count);
        return counter.Place;
    }
}
