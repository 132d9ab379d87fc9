using AnchorBend.Language;
using AnchorBend.Language.Syntax;
using AnchorBend.Language.Terms;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Flat;
using AnchorBend.Modeling.Written;
using AnchorBend.Simulation.Recording;
using AnchorBend.Verification.Measures;
using AnchorBend.Workbench.Models;

namespace AnchorBend.Workbench.Runs;

/// <summary>A name of a chart with its value at an instant, as people read it.</summary>
public sealed record NamedValue(string Name, string Value);

/// <summary>A transition that was taken.</summary>
/// <param name="Values">Of the names that its guard speaks of, at that instant.</param>
public sealed record TakenTransition(double Time, string Transition, string From, string To, IReadOnlyList<NamedValue> Values);

/// <param name="Total">How many were taken in all.</param>
public sealed record TakenTransitions(int Total, IReadOnlyList<TakenTransition> Taken);

/// <summary>One condition of a guard.</summary>
/// <param name="Holds">Null where that cannot be told.</param>
public sealed record GuardPart(string Text, bool? Holds, IReadOnlyList<NamedValue> Values);

/// <summary>A transition on the way to a state.</summary>
/// <param name="Event">The event that it waits for; null for none.</param>
/// <param name="Wait">How long it asks for, as typed; null for nothing.</param>
public sealed record ApproachStep(
    string Transition,
    string From,
    string To,
    string? Event,
    string? Wait,
    IReadOnlyList<GuardPart> Parts,
    bool IsOpen
);

/// <summary>How a state can be reached from what is active.</summary>
/// <param name="IsActive">Whether it is active now.</param>
/// <param name="Steps">The fewest transitions that lead there, in their order; nothing where none do.</param>
/// <param name="Others">The other transitions that lead into it.</param>
public sealed record Approach(bool IsActive, IReadOnlyList<ApproachStep> Steps, IReadOnlyList<ApproachStep> Others);

/// <summary>What a run says of a chart: which transitions were taken and why, and what a state still waits for.</summary>
public sealed class ChartCourse
{
    /// <summary>Transitions that are listed.</summary>
    const int Most = 500;

    readonly RunJob job;
    readonly Trace trace;
    readonly ChartDefinition chart;
    readonly ChartSignals signals;
    readonly RunValues values;
    readonly string part;

    /// <exception cref="NotFoundException">The run has no such chart.</exception>
    public ChartCourse(RunJob job, PartPath level)
    {
        this.job = job;
        trace = job.Trace ?? throw new ObjectDisposedException(nameof(RunJob));
        var gone = new NotFoundException("The chart is not in the model of this run.");
        chart = job.Document.Chart(level)?.Chart ?? throw gone;
        part = job.Prepared.Map.NameOf(level) ?? throw gone;
        signals = ChartSignals.Of(chart);
        values = new RunValues(job, trace);
    }

    /// <summary>What was taken up to a time, the latest first.</summary>
    public TakenTransitions Taken(double until)
    {
        var found = new List<(int Row, double Time, string Transition)>();
        var times = trace.Times;
        foreach (var (id, name) in signals.Transitions)
        {
            // What is done again and again would hide the others.
            if (chart.Transitions[id].Every is not null || PlaceOf(name) is not { } place || !trace.Has(place))
                continue;
            WorkBudget.Current.Check();
            var counts = trace.Column(place);
            for (var row = 0; row < counts.Length && times[row] <= until; row++)
                if (row > 0 ? counts[row] > counts[row - 1] : counts[row] > 0)
                    found.Add((row, times[row], id));
        }

        return new TakenTransitions(
            found.Count,
            [
                .. found
                    .OrderByDescending(t => t.Time)
                    .Take(Most)
                    .Select(t =>
                    {
                        var node = chart.Transitions[t.Transition];
                        var to = node.To is { } target ? chart.States[target].Name : "";
                        return new TakenTransition(t.Time, t.Transition, chart.States[node.From].Name, to, Deciding(node.Guard, t.Row));
                    }),
            ]
        );
    }

    /// <summary>Values that a guard saw in a row of the trace: those of outside as they were then, those that the chart sets as they were
    /// before.</summary>
    List<NamedValue> Deciding(string? guard, int row) =>
        NamesIn(guard)
            .ConvertAll(node =>
            {
                var own = node.Kind is NameKind.Output or NameKind.Local or NameKind.Signal;
                var value = Variable(node.Name) is { } variable
                    ? values.InRow(variable.Index, own ? Math.Max(0, row - 1) : row)
                    : double.NaN;
                return new NamedValue(node.Name, Told(node, value));
            });

    /// <summary>The fewest transitions from what is active at a time to a state.</summary>
    /// <exception cref="NotFoundException">There is no such state.</exception>
    public Approach To(string state, double time)
    {
        if (!signals.States.ContainsKey(state))
            throw new NotFoundException("The chart has no such state.");
        if (Value(signals.States[state], time) == 1)
            return new Approach(true, [], []);
        var active = signals.States.Keys.Where(s => Value(signals.States[s], time) == 1).ToHashSet();
        var ways = ChartWays.Of(chart);
        var before = new Dictionary<string, string>();
        var open = new Queue<string>(active);
        var seen = new HashSet<string>(active);
        while (open.TryDequeue(out var at) && !seen.Contains(state))
            foreach (var (id, enters) in ways.Where(w => chart.Transitions[w.Key].From == at))
            foreach (var entered in enters.Where(seen.Add))
            {
                before[entered] = id;
                open.Enqueue(entered);
            }

        var steps = new List<string>();
        for (var at = state; before.TryGetValue(at, out var id) && steps.Count < 50; at = chart.Transitions[id].From)
        {
            steps.Add(id);
            if (active.Contains(chart.Transitions[id].From))
                break;
        }

        steps.Reverse();
        var others = ways.Where(w => w.Value.Contains(state) && !steps.Contains(w.Key)).Select(w => w.Key);
        return new Approach(false, [.. steps.Select(s => Step(s, time))], [.. others.Take(20).Select(s => Step(s, time))]);
    }

    ApproachStep Step(string id, double time)
    {
        var t = chart.Transitions[id];
        List<GuardPart> parts = [.. Conjuncts(t.Guard).Select(e => Part(e, time))];
        return new ApproachStep(
            id,
            signals.Paths.GetValueOrDefault(t.From, ""),
            t.To is { } to ? signals.Paths.GetValueOrDefault(to, "") : "",
            t.Event,
            t.After is { } after ? $"after {after}"
                : t.HeldFor is { } held ? $"for {held}"
                : null,
            parts,
            parts.TrueForAll(p => p.Holds == true)
        );
    }

    GuardPart Part(Expression condition, double time)
    {
        var text = ExpressionText.Print(condition);
        try
        {
            var asSignals = ExpressionText.Print(References.With(condition, Global));
            var term = RunCondition.Parse(job.Prepared, job.Parameters.Values, asSignals);
            var value = new TermEvaluator(i => values.At(i, time)).Evaluate(term);
            return new GuardPart(text, double.IsNaN(value) ? null : value != 0, ValuesOf(text, time));
        }
        catch (LanguageException)
        {
            // Such as elapsed(), which only the chart knows.
            return new GuardPart(text, null, ValuesOf(text, time));
        }
    }

    /// <summary>A name of the chart as the model has it; words as the numbers that they stand for.</summary>
    Expression Global(Reference reference)
    {
        var name = reference.Parts[0].Name;
        foreach (var node in chart.Names.Values)
        {
            if (node.Name == name)
                return new Reference([.. part.Split('.').Select(s => new ReferencePart(s, [])), .. reference.Parts], reference.At);
            if (Words.Of(node.Type).ToList().IndexOf(name) is >= 0 and var place)
                return new NumberLiteral(place + 1, true, reference.At);
        }

        return reference;
    }

    static IEnumerable<Expression> Conjuncts(string? guard)
    {
        try
        {
            return guard is { Length: > 0 } ? Split(Parser.ParseExpression(Parser.InCoherentUnits(guard))) : [];
        }
        catch (LanguageException)
        {
            return [];
        }

        static IEnumerable<Expression> Split(Expression e) =>
            e is Binary { Kind: BinaryKind.And } b ? Split(b.Left).Concat(Split(b.Right)) : [e];
    }

    List<NamedValue> ValuesOf(string? guard, double time) =>
        NamesIn(guard).ConvertAll(node => new NamedValue(node.Name, Told(node, Value(node.Name, time))));

    /// <summary>The names that a guard speaks of, each once.</summary>
    List<NameNode> NamesIn(string? guard) =>
        [
            .. Conjuncts(guard)
                .SelectMany(References.In)
                .Select(r => chart.Names.Values.FirstOrDefault(n => n.Name == r.Parts[0].Name))
                .OfType<NameNode>()
                .DistinctBy(n => n.Name),
        ];

    static string Told(NameNode node, double value)
    {
        if (double.IsNaN(value))
            return "–";
        if (Words.Of(node.Type) is { Count: > 0 } words)
            return value >= 1 && value <= words.Count ? words[(int)value - 1] : "–";
        if (node.Type == "Boolean" || node.Kind is NameKind.Event or NameKind.Signal)
            return value != 0 ? "true" : "false";
        var unit = node.Unit is { Length: > 0 } symbol ? $" {symbol}" : "";
        return FormattableString.Invariant($"{value:G4}{unit}");
    }

    FlatVariable? Variable(string name) => job.Prepared.Find($"{part}.{name}");

    int? PlaceOf(string name) => Variable(name) is { } variable ? job.Prepared.Compiled!.Plan.Representative[variable.Index] : null;

    double Value(string name, double time) => Variable(name) is { } variable ? values.At(variable.Index, time) : double.NaN;
}
