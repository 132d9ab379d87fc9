using System.Globalization;
using AnchorBend.Compiler.Lowering;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Delivery;

/// <summary>What a unit has for those that integrate it.</summary>
/// <param name="States">Names in the structure of what is integrated, in its order, with their variables and magnitudes.</param>
/// <param name="Indicators">What passes zero where something is decided, with the parts.</param>
/// <param name="Slopes">What the slope of each state depends on, and <paramref name="Outputs"/> each output.</param>
sealed record FlowShape(
    IReadOnlyList<(string Name, FlatVariable Variable, double Nominal)> States,
    IReadOnlyList<string> Indicators,
    IReadOnlyList<Depends> Slopes,
    IReadOnlyList<Depends> Outputs
);

/// <summary>
/// The functions of a unit whose states are integrated outside (Cellier and Kofman: Continuous System Simulation, section 9.5): between
/// events slopes, outputs and event indicators as things were decided; at events decisions; and when the next event comes that is known.
/// </summary>
public sealed partial class CWriter
{
    static string TicksOf(int clock) => "ticks_" + (clock + 1).ToString(CultureInfo.InvariantCulture);

    /// <summary>Relations that something goes by and that no time tells, by their places.</summary>
    IEnumerable<int> Indicated => LiveRelations.Where(r => unit.Plan.Relations[r].Compare is null);

    IReadOnlyList<int> LiveRelations =>
        liveRelations ??= [
            .. new[] { functions.Evaluate, functions.Slopes }
                .Concat(functions.Loops.SelectMany(l => new[] { l.Residuals, l.Jacobian }))
                .SelectMany(b => b.Statements)
                .SelectMany(s => CFunctions.All(s.Statement))
                .OfType<PlaceCode>()
                .Where(p => p.Space == Space.Memory && p.Index >= Layout.RelationBase && p.Index < Layout.AbscissaBase)
                .Select(p => p.Index - Layout.RelationBase)
                .Distinct()
                .Order(),
        ];

    IReadOnlyList<int>? liveRelations;

    /// <summary>The files, and what they hold.</summary>
    internal static (IReadOnlyList<CodeFile> Files, FlowShape Shape) Flow(CodeUnit unit)
    {
        var writer = new CWriter(unit);
        var files = writer.Files();
        var evaluator = new TermEvaluator(i => unit.Parameters.Values[i]);
        double Nominal(FlatVariable v) =>
            v.Nominal is { } term && Math.Abs(evaluator.Evaluate(term)) is > 0 and < double.PositiveInfinity and var size ? size : 1;
        var known = writer.Walk(writer.functions.Slopes, false);
        return (
            files,
            new FlowShape(
                [
                    .. writer.States.Select(s =>
                        (writer.StateName(s), unit.Model.Variables[unit.Plan.States[s]], Nominal(unit.Model.Variables[unit.Plan.States[s]]))
                    ),
                ],
                [.. writer.Indicated.Select(r => CodeUnit.PathWithin(unit.Plan.Relations[r].Owner))],
                writer.OfSlopes(known),
                writer.OfOutputs(known)
            )
        );
    }

    string Slopes => HasStates ? $", {prefix}_continuous *dx" : "";

    string Indicators => Indicated.Any() ? $", {real} *z" : "";

    string FlowHead => $"void {prefix}_flow({Arguments()}, {real} t{Slopes}, {prefix}_outputs *y{Indicators})";

    string EventHead => $"void {prefix}_event({Arguments()}, {real} t, bool first)";

    string NextHead => $"{real} {prefix}_next({Arguments()}, {real} t)";

    void FlowHeader(CFile file)
    {
        file.Comment("At a time between events: slopes, outputs, and what passes zero where something is to be decided.");
        file.Line(FlowHead + ";");
        file.Blank();
        file.Comment("At an event, the first of which is the start: clocks tick, and decisions are made until nothing changes any more.");
        file.Line(EventHead + ";");
        file.Blank();
        file.Comment("When the next event comes that time alone brings, s; infinite for never.");
        file.Line(NextHead + ";");
        file.Blank();
    }

    void FlowFunctions(CFile file)
    {
        FlowFunction(file);
        EventFunction(file);
        NextFunction(file);
        FinishStart();
    }

    void FlowFunction(CFile file)
    {
        var inner = new CFile(1);
        Print(inner, functions.Slopes, Decision.Held, "x->", "dx->");
        Outputs(inner, "dx->");
        var place = 0;
        foreach (var r in Indicated)
        {
            var lines = Computed(
                $"z_{place + 1}",
                CFunctions.Difference(unit.Plan.Relations[r]),
                FormattableString.Invariant($"z[{place}] = ")
            );
            foreach (var line in lines)
                inner.Line(line);
            place++;
        }

        var written = inner.Done("");
        var body = new CFile(1);
        if (HasStates && Uses(written.Text, "x"))
            body.Line($"const {prefix}_continuous *x = &s->x;");
        DeriveFirst(body);
        body.Append(written);
        Unit(file, FlowHead, null, body);
    }

    void EventFunction(CFile file)
    {
        var body = new CFile(1);
        if (HasStates)
            body.Line($"{prefix}_continuous dx;");
        DeriveFirst(body);
        var slopes = HasStates ? ", &dx" : "";
        body.Open("if (first) {");
        body.Line("s->initial = true;");
        body.Line($"{prefix}_settle({Passed}, t{slopes});");
        body.Close();
        foreach (var clock in WaitingClocks)
        {
            body.Line($"s->{places.TickOf(clock)} = (t >= {Due(clock)} - ({Literal(ReachedPart)} * {Fabs}(t)));");
            body.Open($"if (s->{places.TickOf(clock)}) {{");
            body.Line($"s->{TicksOf(clock)}++;");
            body.Close();
        }

        body.Line($"{prefix}_settle({Passed}, t{slopes});");
        Unit(file, EventHead, null, body);
    }

    /// <summary>Who integrates may come to an instant as much too early as sums of steps round.</summary>
    const double ReachedPart = 1e-12;

    string Due(int clock)
    {
        var evaluator = new TermEvaluator(i => unit.Parameters.Values[i]);
        var (start, interval) = (unit.Model.Clocks[clock].Start, unit.Model.Clocks[clock].Interval);
        return $"({Literal(evaluator.Evaluate(start))} + (({real})s->{TicksOf(clock)} * {Literal(evaluator.Evaluate(interval))}))";
    }

    void NextFunction(CFile file)
    {
        var body = new CFile(1);
        body.Line($"{real} next = INFINITY;");
        body.Blank();
        // A tick that is due comes at once.
        foreach (var clock in WaitingClocks)
            body.Line($"next = earlier(next, {Due(clock)}, (-INFINITY));");
        var instants = LiveRelations.Select(r => unit.Plan.Relations[r].Compare).OfType<Term>().DistinctBy(t => t.Key).ToList();
        for (var i = 0; i < instants.Count; i++)
            foreach (var line in Computed($"at_{i + 1}", instants[i], "next = earlier(next, ", ", t)"))
                body.Line(line);
        Knots(body);
        body.Line("return next;");
        if (Uses(body.Done("").Text, "earlier"))
            helpers.Add("earlier");
        Unit(file, NextHead, null, body);
    }

    /// <summary>Where tables that are read along time have their points.</summary>
    void Knots(CFile body)
    {
        var number = 0;
        foreach (var (table, rate, held) in unit.Plan.TimeTables)
        {
            if (!kept.Contains(Layout.AbscissaBase + held))
                continue;
            helpers.UnionWith(["table_in", "next_knot"]);
            var name = places.TableAt(Layout.HoistRow([.. table.Knots.ToArray(), .. table.Values.ToArray()]), table.Count);
            var repeats = table.Kind is TableKind.RepeatingLinear or TableKind.RepeatingSteps ? "true" : "false";
            var (abscissa, speed) = ($"knot_{++number}", $"speed_{number}");
            foreach (var line in Computed(abscissa, table.Abscissa, $"const {real} {abscissa} = "))
                body.Line(line);
            foreach (var line in Computed(speed, rate, $"const {real} {speed} = "))
                body.Line(line);
            body.Line(
                $"next = earlier(next, t + ((next_knot({abscissa}, {name}_x, {table.Count}U, {repeats}) - {abscissa}) / {speed}), t);"
            );
        }
    }
}
