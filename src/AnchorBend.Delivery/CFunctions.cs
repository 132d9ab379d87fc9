using AnchorBend.Compiler.Lowering;
using AnchorBend.Compiler.Planning;
using AnchorBend.Language.Terms;

namespace AnchorBend.Delivery;

/// <summary>The statements of a function, each with the routine whose locals it uses.</summary>
sealed record CBody(IReadOnlyList<(int Routine, Statement Statement)> Statements);

/// <summary>The functions that a unit comes to, before they are printed.</summary>
sealed class CFunctions
{
    const int EventMode = Compiler.Emission.EvaluationMode.Event,
        OutputMode = Compiler.Emission.EvaluationMode.Outputs;

    /// <param name="printer">Tells what is known before the code runs.</param>
    /// <param name="outputs">Places that are read after a step.</param>
    public CFunctions(CodeUnit unit, CPlaces places, CPrinter printer, IReadOnlySet<int> outputs)
    {
        decided = printer.Decided;
        isSolvedOutside = unit.Request.IsSolvedOutside;
        Watched = isSolvedOutside ? [.. Differences(unit.Plan), .. Instants(unit.Plan)] : [];
        var program = unit.Program.Program;
        Evaluate = new CBody([.. Of(program.Chunks, EventMode, 0)]);
        var dynamic = program.Chunks.Where((_, i) => program.IsForDerivatives[i]).ToList();
        NeedsSlopes = isSolvedOutside || unit.Plan.States.Length > 0 && unit.Request.Method != Simulation.Grid.GridMethod.Euler;
        Slopes = new CBody(
            isSolvedOutside ? [.. Of(program.Chunks, OutputMode, 1000)]
            : NeedsSlopes ? [.. Of(dynamic, 0, 1000)]
            : []
        );
        Loops =
        [
            .. program.Loops.Select((l, i) => (Body(l.Residuals[0].Routine, 2000 + 2 * i), Body(l.Jacobian[0].Routine, 2001 + 2 * i))),
        ];
        Fold(unit, places, printer, outputs);
        LiveStates = Trim(unit, outputs);
        NeedsSlopes &= isSolvedOutside || LiveStates.Count > 0;
        if (!NeedsSlopes)
            Slopes = new CBody([]);
    }

    void Fold(CodeUnit unit, CPlaces places, CPrinter printer, IReadOnlySet<int> outputs)
    {
        var folding = new CodeFolding(places.IsGiven, printer.Known, decided);
        var writes = Use(Evaluate, true).Writes;
        var before = Use(Evaluate, true).Read.Concat(Use(Slopes, false).Read).ToHashSet();
        foreach (var (residuals, jacobian) in Loops)
            before.UnionWith(Use(residuals, false).Read.Concat(Use(jacobian, false).Read));
        var discretes = unit.Plan.Discretes.Where((_, d) => before.Contains(unit.Program.Layout.PreviousBase + d)).ToHashSet();
        var asked = unit.Plan.Reinits.Count > 0 || isSolvedOutside;
        // Outputs and what is compared with its value before stay variables, as do those that terms elsewhere ask for.
        bool IsKept(int place) =>
            asked
            || outputs.Contains(place)
            || discretes.Contains(place)
            || writes.GetValueOrDefault(place) > 1
            || place >= unit.Program.Layout.PreviousBase;
        Evaluate = folding.Fold(Evaluate, IsKept);
        Slopes = HeldRelations.Of(folding.Fold(Slopes, IsKept));
        Loops = [.. Loops.Select(l => (folding.Fold(l.Residuals, IsKept), folding.Fold(l.Jacobian, IsKept)))];
    }

    /// <summary>States that something reads; the others are not integrated.</summary>
    public IReadOnlySet<int> LiveStates { get; }

    readonly Func<Test, bool?> decided;
    readonly bool isSolvedOutside;

    /// <summary>Terms that those who integrate outside look at.</summary>
    public IReadOnlyList<Term> Watched { get; }

    /// <summary>What passes zero where a relation changes its truth.</summary>
    static IEnumerable<Term> Differences(ExecutionPlan plan) => plan.Relations.Where(r => r.Compare is null).Select(r => Difference(r));

    public static Term Difference(PlanRelation relation) => TermBuilder.Subtract(relation.Term.Left, relation.Term.Right);

    /// <summary>When relations with time change their truth, and where tables over time are read.</summary>
    static IEnumerable<Term> Instants(ExecutionPlan plan) =>
        plan.Relations.Select(r => r.Compare).OfType<Term>().Concat(plan.TimeTables.Select(t => t.Table.Abscissa));

    /// <summary>All that a step decides and computes.</summary>
    public CBody Evaluate { get; private set; }

    /// <summary>Derivatives of the states alone; where the states are integrated outside, outputs too, as things were decided.</summary>
    public CBody Slopes { get; private set; }

    public bool NeedsSlopes { get; private set; }

    public IReadOnlyList<(CBody Residuals, CBody Jacobian)> Loops { get; private set; }

    static CBody Body(Routine routine, int number) => new([.. routine.Body.Select(s => (number, s))]);

    static IEnumerable<(int, Statement)> Of(IReadOnlyList<Routine> routines, int mode, int number)
    {
        for (var r = 0; r < routines.Count; r++)
            foreach (var statement in Unguarded(routines[r].Body, mode))
                yield return (number + r, statement);
    }

    static IEnumerable<Statement> Unguarded(IReadOnlyList<Statement> body, int mode)
    {
        foreach (var statement in body)
            if (statement is not GuardStatement guard)
                yield return statement;
            else if (mode >= guard.LeastMode)
                foreach (var inner in Unguarded(guard.Body, mode))
                    yield return inner;
    }

    public PlaceUse Use(CBody body, bool decides) => new(body.Statements, decides, decided);

    /// <summary>Leaves out what no output comes from.</summary>
    /// <returns>The states that one comes from.</returns>
    IReadOnlySet<int> Trim(CodeUnit unit, IReadOnlySet<int> outputs)
    {
        var (plan, layout) = (unit.Plan, unit.Program.Layout);
        var seen = new HashSet<int>(outputs);
        // Loops are solved and events set states whatever comes of them.
        var all = plan.Reinits.Count > 0 || Loops.Count > 0 || isSolvedOutside;
        foreach (var (residuals, jacobian) in Loops)
            seen.UnionWith(Use(residuals, false).Read.Concat(Use(jacobian, false).Read));
        foreach (var term in plan.Reinits.SelectMany(r => new[] { r.Condition, r.Value }).Concat(Watched))
            seen.UnionWith(
                unit.Program.Terms([term]).Body.SelectMany(All).OfType<PlaceCode>().Where(p => p.Space == Space.Memory).Select(p => p.Index)
            );
        var states = Enumerable
            .Range(0, plan.States.Length)
            .Where(i => all || outputs.Contains(plan.States[i]) || outputs.Contains(plan.Derivatives[i]));
        bool IsDecided(int p) => p >= layout.RelationBase && p < layout.HoistBase;
        int Now(int p) => p >= layout.PreviousBase && p < layout.RelationBase ? plan.Discretes[p - layout.PreviousBase] : p;
        var live = new Liveness([Evaluate, Slopes], seen, states, Now, IsDecided);
        // Slopes need less than what is evaluated at the beginning of a step.
        var slopes = new Liveness([Slopes], isSolvedOutside ? seen : seen.Except(outputs), live.States, p => p, IsDecided);
        (Evaluate, Slopes) = (live.Of(Evaluate), slopes.Of(Slopes));
        // What the slopes compute for themselves is not computed before them, but what they read of it is decided there.
        var own = new Liveness([Evaluate], seen.Concat(Use(Slopes, false).First), live.States, Now, IsDecided);
        Evaluate = own.Of(Evaluate);
        return live.States;
    }

    /// <summary>All that a statement computes with, what is within it too.</summary>
    public static IEnumerable<Code> All(Statement statement) => Parts(statement).SelectMany(Codes);

    public static IEnumerable<Code> All(Code code) => Codes(code);

    public static IEnumerable<Code> All(Test test) => Codes(test);

    /// <summary>Locals that a statement reads.</summary>
    public static HashSet<int> Locals(Statement statement) =>
        [.. Parts(statement).SelectMany(Codes).OfType<LocalCode>().Select(l => l.Local)];

    /// <summary>Places that a condition reads.</summary>
    public static HashSet<PlaceCode> Places(Test test) => [.. Codes(test).OfType<PlaceCode>()];

    static IEnumerable<Code> Parts(Statement statement) =>
        statement switch
        {
            StoreStatement s => [s.Value],
            LocalStatement l => [l.Value],
            ResultStatement r => [r.Value],
            IfStatement i => [.. Codes(i.Condition), .. i.Then.SelectMany(Parts), .. i.Otherwise.SelectMany(Parts)],
            _ => [],
        };

    /// <summary>A value and all in it, what is computed first standing first.</summary>
    static IEnumerable<Code> Codes(Code code)
    {
        IEnumerable<Code> inner = code switch
        {
            LetCode l => Codes(l.Value),
            OperationCode o => o.Right is { } right ? [.. Codes(o.Left), .. Codes(right)] : Codes(o.Left),
            PowerCode p => Codes(p.Operand),
            ChooseCode c => [.. Codes(c.Condition), .. Codes(c.Then), .. Codes(c.Otherwise)],
            TruthCode t => Codes(t.Condition),
            TableCode { HeldAbscissa: >= 0 } t => [.. Codes(t.Abscissa), new PlaceCode(Space.Memory, t.HeldAbscissa)],
            TableCode t => Codes(t.Abscissa),
            _ => [],
        };
        return inner.Append(code);
    }

    static IEnumerable<Code> Codes(Test test) =>
        test switch
        {
            NotTest n => Codes(n.Operand),
            AndTest a => [.. Codes(a.Left), .. Codes(a.Right)],
            OrTest o => [.. Codes(o.Left), .. Codes(o.Right)],
            CompareTest c => [.. Codes(c.Left), .. Codes(c.Right)],
            NonZeroTest z => Codes(z.Value),
            // The place where it is held stands for the decision.
            HeldTest h => [.. Codes(h.Anew), new PlaceCode(Space.Memory, h.Place)],
            _ => [],
        };

    /// <summary>
    /// Whether a second evaluation of the same step would find nothing new: what was before is only read where a clock ticks, or to hold
    /// what is not sampled now.
    /// </summary>
    public bool IsOncePerStep(CodeUnit unit)
    {
        var layout = unit.Program.Layout;
        var flags = unit.Clocks.Select(c => c.Flag).ToHashSet();
        bool IsBefore(Code code) =>
            code is PlaceCode { Space: Space.Memory } p
            && (p.Index >= layout.PreviousBase && p.Index < layout.RelationBase || p.Index == Modeling.Flat.FlatModel.InitialFlagIndex);
        bool IsFlag(Test test) => test is NonZeroTest { Value: PlaceCode { Space: Space.Memory } p } && flags.Contains(p.Index);
        bool Free(Code code) =>
            code switch
            {
                ChooseCode c when IsFlag(c.Condition) => IsBefore(c.Otherwise) || Free(c.Otherwise),
                ChooseCode c => FreeTest(c.Condition) && Free(c.Then) && Free(c.Otherwise),
                LetCode l => Free(l.Value),
                OperationCode o => Free(o.Left) && (o.Right is null || Free(o.Right)),
                PowerCode p => Free(p.Operand),
                TruthCode t => FreeTest(t.Condition),
                TableCode t => Free(t.Abscissa),
                _ => !IsBefore(code),
            };
        bool FreeTest(Test test) =>
            test switch
            {
                NotTest n => FreeTest(n.Operand),
                AndTest a => FreeTest(a.Left) && FreeTest(a.Right),
                OrTest o => FreeTest(o.Left) && FreeTest(o.Right),
                CompareTest c => Free(c.Left) && Free(c.Right),
                NonZeroTest z => Free(z.Value),
                HeldTest h => FreeTest(h.Anew),
                _ => false,
            };
        return Loops.Count == 0
            && unit.Plan.Reinits.Count == 0
            && Evaluate.Statements.All(s =>
                s.Statement switch
                {
                    StoreStatement store => Free(store.Value),
                    LocalStatement local => Free(local.Value),
                    _ => false,
                }
            );
    }
}
