using System.Globalization;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Binding;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;
using AnchorBend.Simulation.Grid;

namespace AnchorBend.Delivery;

/// <summary>
/// Writes a unit as C (ISO/IEC 9899:1999): a header with structures for inputs, outputs, parameters and state, and a source with start
/// and step. Nothing is allocated, nothing calls itself, each loop has a bound. The arithmetic is the model's, operation by operation.
/// </summary>
public sealed partial class CWriter
{
    readonly CodeUnit unit;
    readonly CPlaces places;
    readonly CFunctions functions;
    readonly bool once;
    readonly HashSet<int> always;

    /// <summary>Places of memory that have their value from one step to the next, or from one function to another.</summary>
    readonly HashSet<int> kept = [];

    /// <summary>Relations whose truth the slopes read.</summary>
    readonly HashSet<int> relations = [];

    /// <summary>Whether an algebraic loop goes by what is decided at the beginning of a step.</summary>
    bool loopsDecide;

    readonly string prefix,
        real;
    readonly HashSet<string> helpers = [];

    CWriter(CodeUnit unit)
    {
        this.unit = unit;
        prefix = CNames.Small(unit.Name);
        real = unit.Request.IsFloat ? "float" : "double";
        places = new CPlaces(unit);
        var outputs = unit.Outputs.Select(o => unit.Plan.Representative[o.Variable.Index]).ToHashSet();
        always = unit.Clocks.Where(c => c is { First: 0, Every: 1 }).Select(c => c.Flag).ToHashSet();
        var first = new CFunctions(unit, places, Knowing(new HashSet<int>()), outputs);
        once = !IsFlow && first.IsOncePerStep(unit);
        if (!once)
            always.Clear();
        functions = new CFunctions(unit, places, Knowing(always), outputs);
        Keep(outputs);
    }

    CPrinter Knowing(IReadOnlySet<int> flags) => new(unit, places, _ => "", _ => ("", false)) { Always = flags, IsOnce = once };

    /// <summary>Whether states are integrated outside.</summary>
    bool IsFlow => unit.Request.IsSolvedOutside;

    Func<Test, bool?> Deciding(IReadOnlySet<int> flags) => Knowing(flags).Decided;

    /// <summary>States that are integrated, by their place in the vector of states.</summary>
    IEnumerable<int> States => Enumerable.Range(0, unit.Plan.States.Length).Where(functions.LiveStates.Contains);

    MemoryLayout Layout => unit.Program.Layout;

    public static IReadOnlyList<CodeFile> Write(CodeUnit unit) => new CWriter(unit).Files();

    /// <summary>Tunable parameters that nothing in the code reads: of a form of the part, say, that is not chosen.</summary>
    public static IReadOnlyList<string> Idle(CodeUnit unit, IReadOnlyList<CodeFile> files)
    {
        var read = string.Join('\n', files[1].Text.Split('\n').Where(l => !l.StartsWith("    p->", StringComparison.Ordinal)));
        return
        [
            .. new CPlaces(unit)
                .Tunable.Where(t => !System.Text.RegularExpressions.Regex.IsMatch(read, $@"p->{t.Name}\b"))
                .Select(t => t.Port.Name),
        ];
    }

    /// <summary>Fields of the structure of the state that hold real numbers which the unit goes on from: what it integrates, and what it
    /// remembers from one tick to the next. Each with those that hold the same between two steps.</summary>
    internal static IReadOnlyList<string[]> RememberedFields(CodeUnit unit)
    {
        var writer = new CWriter(unit);
        _ = writer.Files();
        var remembered =
            from place in writer.kept.Order()
            where place >= writer.Layout.PreviousBase && place < writer.Layout.RelationBase
            let now = unit.Plan.Discretes[place - writer.Layout.PreviousBase]
            where unit.Model.Variables[now].Type == ScalarType.Real
            select new[] { writer.Field(place), writer.Field(now) }.Take(writer.kept.Contains(now) ? 2 : 1).ToArray();
        return [.. writer.States.Select(s => new[] { "x." + writer.StateName(s) }), .. remembered];
    }

    void Keep(HashSet<int> outputs)
    {
        var (evaluate, slopes) = (functions.Use(functions.Evaluate, true), functions.Use(functions.Slopes, false));
        kept.UnionWith(evaluate.First);
        kept.UnionWith(slopes.First);
        relations.UnionWith(slopes.First.Where(p => p >= Layout.RelationBase && p < Layout.AbscissaBase));
        foreach (var (residuals, jacobian) in functions.Loops)
        foreach (var body in new[] { residuals, jacobian })
        foreach (var use in new[] { functions.Use(body, false), functions.Use(body, true) })
        {
            kept.UnionWith(use.Read);
            kept.UnionWith(use.Written);
            relations.UnionWith(use.Read.Where(p => p >= Layout.RelationBase && p < Layout.AbscissaBase));
            loopsDecide |= use.Read.Any(p => p >= Layout.RelationBase && p < Layout.HoistBase);
        }

        foreach (var torn in unit.Program.Loops.SelectMany(l => l.Torn).Where(t => SpaceOf(t) == Space.Memory))
            kept.Add(torn);
        if (!once)
        {
            kept.UnionWith(outputs.Where(o => SpaceOf(o) == Space.Memory));
            // A change that nobody sees asks for no other evaluation; where loops are solved, each one goes further.
            for (var d = 0; d < unit.Plan.Discretes.Length; d++)
                if (
                    evaluate.Written.Contains(unit.Plan.Discretes[d])
                    && (functions.Loops.Count > 0 || kept.Contains(Layout.PreviousBase + d))
                )
                    kept.UnionWith([unit.Plan.Discretes[d], Layout.PreviousBase + d]);
            foreach (var term in unit.Plan.Reinits.SelectMany(r => new[] { r.Condition, r.Value }).Concat(functions.Watched))
                kept.UnionWith(new PlaceUse(Asked(term), false, Deciding(new HashSet<int>())).Read);
        }

        kept.RemoveWhere(p => places.IsGiven(p) || p == FlatModel.InitialFlagIndex);
    }

    IReadOnlyList<(int, Statement)> Asked(Term term) => [.. unit.Program.Terms([term]).Body.Select(s => (0, s))];

    Space SpaceOf(int variable) =>
        unit.Plan.StateSlot[variable] >= 0 ? Space.States
        : unit.Plan.DerivativeSlot[variable] >= 0 ? Space.Derivatives
        : Space.Memory;

    /// <summary>The name of a kept place in the structure of the state.</summary>
    string Field(int place) =>
        place >= Layout.PreviousBase
        && place < Layout.RelationBase
        && unit.Plan.Discretes[place - Layout.PreviousBase] is var now
        && !kept.Contains(now)
            ? places.NameOf(now)
            : places.NameOf(place);

    string StateName(int slot) => places.NameOf(unit.Plan.States[slot]);

    /// <summary>How a function reads a place.</summary>
    /// <param name="states">What leads to the states.</param>
    /// <param name="slopes">What leads to their derivatives.</param>
    string Read(PlaceCode place, string states, string slopes)
    {
        if (place.Space == Space.States)
            return states + StateName(place.Index);
        if (place.Space == Space.Derivatives)
            return slopes + StateName(place.Index);
        var at = place.Index;
        if (places.IsInput(at))
            return unit.Model.Variables[at].Type is ScalarType.Integer or ScalarType.Enumeration
                ? $"({real})u->{places.NameOf(at)}"
                : "u->" + places.NameOf(at);
        if (places.IsTick(at))
            return once ? places.NameOf(at) : "s->" + places.NameOf(at);
        if (at == FlatModel.InitialFlagIndex)
            return "s->initial";
        return kept.Contains(at) ? "s->" + Field(at) : places.NameOf(at);
    }

    bool HasParameters => unit.Tunable.Count > 0;

    bool HasInputs => unit.Inputs.Count > 0;

    bool HasStates => functions.LiveStates.Count > 0;

    IEnumerable<int> WaitingClocks => Enumerable.Range(0, unit.Clocks.Count).Where(c => !always.Contains(unit.Clocks[c].Flag));

    /// <summary>Files of the unit: header, source, and which lines come from which part.</summary>
    IReadOnlyList<CodeFile> Files()
    {
        // Bodies are written first: they tell which helpers, constants and tables they need.
        var bodies = new CFile();
        Bodies(bodies);
        var written = bodies.Done("");
        return [Header(), Source(written)];
    }

    string Type(FlatVariable variable) =>
        variable.Type switch
        {
            ScalarType.Boolean => "bool",
            ScalarType.Integer or ScalarType.Enumeration => "int32_t",
            _ => real,
        };

    static string About(FlatVariable variable)
    {
        var unit = variable.Unit is { Symbol: { Length: > 0 } text } && text != "1" ? text : "";
        return string.Join(", ", new[] { variable.Description ?? "", unit }.Where(t => t.Length > 0));
    }

    CodeFile Header()
    {
        var file = new CFile();
        var guard = prefix.ToUpperInvariant() + "_H";
        file.Comment($"{unit.Name}: {Pace()}.");
        file.Line($"#ifndef {guard}");
        file.Line($"#define {guard}");
        file.Blank();
        file.Line("#include <stdbool.h>");
        file.Line("#include <stdint.h>");
        file.Blank();
        Structure(
            file,
            "inputs",
            places.Inputs.Select(i => (Type(i.Port.Variable), i.Name, About(i.Port.Variable))),
            "What is given at each step."
        );
        Structure(
            file,
            "outputs",
            places.Outputs.Select(o => (Type(o.Port.Variable), o.Name, About(o.Port.Variable))),
            "What a step computes."
        );
        Structure(
            file,
            "parameters",
            places.Tunable.Select(p => (real, p.Name, About(p.Port.Variable))),
            "What may be changed between two steps."
        );
        Structure(
            file,
            "continuous",
            States.Select(i => (real, StateName(i), About(unit.Model.Variables[unit.Plan.States[i]]))),
            "What is integrated over time."
        );
        Structure(file, "state", Fields(), "What is kept from step to step.");
        if (HasParameters)
        {
            file.Comment("The parameters as the model has them.");
            file.Line($"void {prefix}_defaults({prefix}_parameters *p);");
            file.Blank();
        }

        file.Comment(IsFlow ? "Before anything else." : "Before the first step.");
        file.Line($"void {prefix}_start({Start()});");
        file.Blank();
        if (IsFlow)
        {
            FlowHeader(file);
            file.Line($"#endif");
            return file.Done(prefix + ".h");
        }

        file.Comment($"One step of {Seconds(unit.Request.Step)}: outputs at its beginning, then what is kept for the next one.");
        file.Line($"void {prefix}_step({Arguments()}, {prefix}_outputs *y);");
        file.Blank();
        file.Line($"#endif");
        return file.Done(prefix + ".h");
    }

    static string Seconds(double value) =>
        value < 1e-3 ? FormattableString.Invariant($"{value * 1e6:G6} µs")
        : value < 1 ? FormattableString.Invariant($"{value * 1e3:G6} ms")
        : FormattableString.Invariant($"{value:G6} s");

    string Pace() =>
        IsFlow
            ? "slopes, outputs and decisions, for who integrates it"
            : $"one step every {Seconds(unit.Request.Step)}"
                + (
                    !HasStates
                        ? ""
                        : unit.Request.Method switch
                        {
                            GridMethod.Euler => ", by Euler's method",
                            GridMethod.Heun => ", by Heun's method",
                            _ => ", by the method of Runge and Kutta of order 4",
                        }
                );

    string Start() => $"{prefix}_state *s" + (HasParameters ? $", const {prefix}_parameters *p" : "");

    string Arguments() => Start() + (HasInputs ? $", const {prefix}_inputs *u" : "");

    string Passed => "s" + (HasParameters ? ", p" : "") + (HasInputs ? ", u" : "");

    void Structure(CFile file, string kind, IEnumerable<(string Type, string Name, string About)> fields, string what)
    {
        var all = fields.ToList();
        if (all.Count == 0)
            return;
        file.Comment(what);
        file.Open("typedef struct {");
        foreach (var (type, name, about) in all)
        {
            var declared = $"{type} {name};";
            if (about.Length == 0)
                file.Line(declared);
            else if (declared.Length + about.Length < 80)
                file.Line($"{declared.PadRight(26)} /* {CFile.Said(about)} */");
            else
            {
                file.Comment(about);
                file.Line(declared);
            }
        }

        file.Close($"}} {prefix}_{kind};");
        file.Blank();
    }

    IEnumerable<(string Type, string Name, string About)> Fields()
    {
        if (HasStates)
            yield return ($"{prefix}_continuous", "x", "");
        foreach (var place in kept.Order())
            yield return (places.IsBoolean(place) ? "bool" : real, Field(place), AboutPlace(place));
        foreach (var (name, parameter, _) in derived)
            yield return (real, name, About(parameter));
        foreach (var clock in WaitingClocks)
        {
            yield return IsFlow ? ("uint64_t", TicksOf(clock), "ticks made") : ("uint32_t", WaitOf(clock), "steps to the next tick");
            if (!once)
                yield return ("bool", places.TickOf(clock), "whether it ticks now");
        }

        if (!once)
        {
            yield return ("bool", "initial", "whether this is the first evaluation");
            yield return ("uint32_t", "unsettled", "steps in which decisions did not settle");
        }

        if (functions.Loops.Count > 0)
            yield return ("uint32_t", "unsolved", "algebraic loops that were not solved");
        if (CountsSteps && !IsFlow)
            yield return ("uint64_t", "count", "steps made");
        else if (!HasStates && kept.Count == 0 && derived.Count == 0 && !WaitingClocks.Any() && once && functions.Loops.Count == 0)
            yield return ("uint32_t", "unused", "nothing is kept");
    }

    static string WaitOf(int clock) => "wait_" + (clock + 1).ToString(CultureInfo.InvariantCulture);

    bool countsTime;

    bool CountsSteps => countsTime || !once;

    string AboutPlace(int place) =>
        place >= Layout.RelationBase ? ""
        : place >= Layout.PreviousBase ? "before, " + AboutPlace(unit.Plan.Discretes[place - Layout.PreviousBase])
        : place < unit.Model.Variables.Count ? CodeUnit.PathWithin(unit.Model.Variables[place].Name)
        : "";
}
