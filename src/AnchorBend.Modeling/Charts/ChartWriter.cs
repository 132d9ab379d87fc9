using System.Text;
using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Charts;

/// <summary>Writes the class that a chart comes to: its names, and when it looks at its inputs.</summary>
sealed partial class ChartWriter
{
    readonly ChartDefinition chart;
    readonly ChartTree tree;
    readonly StringBuilder text = new();
    readonly TextPlaces places = new();
    readonly IReadOnlyDictionary<string, string> paths;
    readonly ChartSignals signals;
    readonly List<NameNode> names;

    /// <summary>Names that the chart sets.</summary>
    readonly HashSet<string> own;

    /// <summary>By branch, what it leaves the inside of.</summary>
    readonly List<string?> domains;

    /// <summary>Events that the chart raises for itself, then those of its inputs; each is known by its place, from 1 on.</summary>
    readonly List<string> raised = [],
        inputs = [];

    public ChartWriter(ChartDefinition chart)
    {
        (this.chart, tree) = (chart, new ChartTree(chart));
        names = [.. chart.Names.Values.OrderBy(n => n.Order)];
        own = [.. names.Where(n => n.Kind is NameKind.Output or NameKind.Local).Select(n => n.Name)];
        domains = [.. tree.Branches.Select(tree.DomainOf)];
        signals = new ChartSignals(chart, tree);
        paths = signals.Paths;
        raised.AddRange(names.Where(n => n.Kind == NameKind.Signal).Select(n => ExpressionText.Name(n.Name)));
        raised.AddRange(tree.States.Where(WaitsForDone).Select(Done));
        inputs.AddRange(names.Where(n => n.Kind == NameKind.Event).Select(n => ExpressionText.Name(n.Name)));
    }

    bool IsSampled => chart.Period is not null;

    bool WaitsForDone(string state) => tree.Branches.Any(b => b.From == state && b.First.Event == "done");

    string Quoted(string what, string state) => ExpressionText.Name($"{what} {paths[state]}");

    string In(string state) => ExpressionText.Name(signals.States[state]);

    string Since(string state) => Quoted("since", state);

    string Done(string state) => Quoted("done", state);

    /// <summary>Whether a state was active when the state with the history was left.</summary>
    string Was(string owner, string state) => ExpressionText.Name($"was {paths[state]} in {paths[owner]}");

    string Of(string what, int branch) => ExpressionText.Name($"{what} {branch + 1}");

    TextPlace Place(ChartBranch b, string what) => new($"Transition {Told(b)}, {what}", b.Ways[0]);

    string Told(ChartBranch b) => $"{paths[b.From]} → {(b.To is { } to ? paths[to] : "itself")}";

    void Line(string line) => text.Append(line).Append('\n');

    public string Write()
    {
        var name = ExpressionText.Name(chart.Name);
        Line($"block {name}");
        Declare();
        var declared = text.Length;
        Wakes();
        Line("algorithm");
        Line($"when {{{string.Join(", ", Occasions())}}} then");
        Body();
        Line("end when;");
        Line($"end {name};");
        text.Insert(declared, places.Constants());
        return text.ToString();
    }

    /// <summary>The states whose histories something leads to.</summary>
    IEnumerable<string> Owners => tree.States.Where(s => tree.HistoriesIn(s).Any());

    /// <summary>When the chart looks at its inputs.</summary>
    IEnumerable<string> Occasions()
    {
        IEnumerable<string> looks = IsSampled
            ? ["sample(0, period)"]
            : tree
                .Branches.Select((b, i) => (b, i))
                .Where(b => b.b.First.Event is null)
                .Select(b => Of("wakes", b.i))
                .Concat(inputs)
                .Prepend("initial()");
        return looks.Concat(["'its odd'", "'its even'"]);
    }

    void Wakes()
    {
        if (!IsSampled)
            for (var b = 0; b < tree.Branches.Count; b++)
                if (tree.Branches[b].First.Event is null)
                    Line($"protected Boolean {Of("wakes", b)};");
        Line("equation");
        // A microstep that did something lets the next one begin: its number is odd and even in turn, so each is a change.
        Line("'its odd' = pre('its micro') > pre('its seen') and mod(pre('its micro'), 2) == 1;");
        Line("'its even' = pre('its micro') > pre('its seen') and mod(pre('its micro'), 2) == 0;");
        for (var e = 1; e <= inputs.Count; e++)
            Line($"when {inputs[e - 1]} then 'rises {e}' = pre('rises {e}') + 1; end when;");
        for (var b = 0; b < tree.Branches.Count; b++)
        {
            var way = "over and over by: Transition " + Told(tree.Branches[b]).Replace("\"", "'", StringComparison.Ordinal);
            Line($"assert(not ('its endless' and {Of("taken", b)}), \"The chart goes around without an end, {way}.\");");
            if (!IsSampled && tree.Branches[b].First.Event is null)
                Line($"{Of("wakes", b)} = {Holds(b, true)};");
        }
    }

    /// <summary>The condition of a transition but for its event.</summary>
    /// <param name="outside">Whether it is read between looks, where what the chart sets counts as it was.</param>
    string Holds(int branch, bool outside)
    {
        var (b, since) = (tree.Branches[branch], Since(tree.Branches[branch].From));
        string Kept(string name) => outside ? $"pre({name})" : name;
        List<string> conditions =
        [
            Kept(In(b.From)),
            .. b.Guards.Select(g => places.Expression(g, Place(b, "guard"), Kept(since), outside ? own : null)),
        ];
        // Looks come at multiples of the period up to rounding.
        var soon = IsSampled ? " - 1e-6 * period" : "";
        if (b.First.After is { } after)
            conditions.Add($"time >= {Kept(since)} + {TextPlaces.Seconds(after, Place(b, "after"))}{soon}");
        if (b.First.Every is { } every)
            conditions.Add($"time >= {Kept(Of("last", branch))} + {TextPlaces.Seconds(every, Place(b, "every"))}{soon}");
        if (b.First.HeldFor is { } held)
            conditions.Add($"time >= {Kept(Of("held", branch))} + {TextPlaces.Seconds(held, Place(b, "held for"))}{soon}");
        return string.Join(" and ", conditions);
    }
}
