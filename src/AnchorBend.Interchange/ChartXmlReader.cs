using System.Globalization;
using System.Xml.Linq;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Interchange;

/// <summary>Reads what a document of state chart XML says of one chart; what charts here do not have is refused by its name.</summary>
sealed class ChartXmlReader(XElement root, XNamespace standard, XNamespace ours)
{
    static readonly string[] Left = ["invoke", "send", "cancel", "foreach", "log", "donedata"];

    readonly Dictionary<string, ChartStateNode> states = [];
    readonly Dictionary<string, ChartTransitionNode> transitions = [];
    readonly Dictionary<string, string> ids = [];
    readonly List<(string State, XElement Element)> elements = [];

    public ChartDefinition Read()
    {
        foreach (var element in root.Descendants().Where(e => e.Name.Namespace == standard && Left.Contains(e.Name.LocalName)))
            throw new DocumentException(
                $"The element {element.Name.LocalName} is not taken: a chart here has states, transitions, actions."
            );
        States(root, null);
        foreach (var (id, element) in elements)
            Fill(id, element);
        First();
        var names = new Dictionary<string, NameNode>();
        foreach (var data in root.Descendants(standard + "data"))
            names[$"n{names.Count + 1}"] = Name(data, names.Count);
        var chart = new ChartDefinition
        {
            Name = (string?)root.Attribute("name") is { Length: > 0 } name ? name : "Chart",
            Description = Ours(root, "description"),
            Period = Ours(root, "period"),
            Names = names,
            States = states,
            Transitions = transitions,
        };
        DocumentLimits.Checked(
            new DiagramDefinition { Name = "Read" }
                .AsModel()
                .With("chart", chart)
        );
        return chart;
    }

    string? Ours(XElement element, string name) => (string?)element.Attribute(ours + name);

    void States(XElement around, string? parent)
    {
        foreach (var element in around.Elements().Where(IsState))
        {
            if (states.Count >= 5000)
                throw new DocumentException("The chart has too many states.");
            var id = $"s{states.Count + 1}";
            var said = (string?)element.Attribute("id") ?? id;
            if (!ids.TryAdd(said, id))
                throw new DocumentException($"Two states have the id '{DocumentLimits.Short(said)}'.");
            elements.Add((id, element));
            var order = states.Count;
            // Where no place is told, states stand in rows.
            states[id] = new ChartStateNode
            {
                Name = Ours(element, "name") ?? said,
                Kind = KindOf(element),
                Parent = parent,
                Order = order,
                X = Number(element, "x") ?? 40 + order % 5 * 180,
                Y = Number(element, "y") ?? 60 + order / 5 * 120,
                Width = Number(element, "width") ?? 128,
                Height = Number(element, "height") ?? 64,
                While = Ours(element, "while"),
                Entry = Script(element, "onentry"),
                Exit = Script(element, "onexit"),
            };
            States(element, id);
        }
    }

    bool IsState(XElement e) => e.Name.Namespace == standard && e.Name.LocalName is "state" or "parallel" or "final" or "history";

    ChartStateKind KindOf(XElement e) =>
        e.Name.LocalName switch
        {
            "parallel" => ChartStateKind.Parallel,
            "final" => ChartStateKind.Final,
            "history" => (string?)e.Attribute("type") == "deep" ? ChartStateKind.DeepHistory : ChartStateKind.History,
            _ => Ours(e, "kind") == "junction" ? ChartStateKind.Junction : ChartStateKind.State,
        };

    double? Number(XElement element, string name) =>
        double.TryParse(Ours(element, name), NumberStyles.Float, CultureInfo.InvariantCulture, out var value) && double.IsFinite(value)
            ? value
            : null;

    string Target(string told) =>
        told.Trim() is var one && ids.TryGetValue(one, out var id)
            ? id
            : throw new DocumentException(
                one.Contains(' ', StringComparison.Ordinal)
                    ? "A transition has several targets; here it has one."
                    : $"There is no state '{DocumentLimits.Short(one)}' that something leads to."
            );

    void Fill(string id, XElement element)
    {
        var initial = (string?)element.Attribute("initial")
            ?? (string?)element.Element(standard + "initial")?.Element(standard + "transition")?.Attribute("target");
        var own = element.Elements(standard + "transition").ToList();
        if (states[id].Kind is ChartStateKind.History or ChartStateKind.DeepHistory)
        {
            initial = (string?)own.FirstOrDefault()?.Attribute("target");
            own = [];
        }

        if (initial is { Length: > 0 })
            states[id] = states[id] with { Initial = Target(initial) };
        foreach (var (place, t) in own.Index())
            transitions[$"t{transitions.Count + 1}"] = Transition(id, t, place);
    }

    ChartTransitionNode Transition(string from, XElement t, int place)
    {
        var waits = (string?)t.Attribute("event");
        if (waits is not null && (waits.Contains(' ', StringComparison.Ordinal) || waits.Contains('*', StringComparison.Ordinal)))
            throw new DocumentException($"The event '{DocumentLimits.Short(waits)}' is none by its name: lists and stars are not taken.");
        if (waits is not null && waits.StartsWith("done.state", StringComparison.Ordinal))
            waits = "done";
        return new ChartTransitionNode
        {
            From = from,
            To = (string?)t.Attribute("target") is { } target ? Target(target) : null,
            Event = waits,
            Guard = (string?)t.Attribute("cond"),
            Action = Statements(t),
            After = Ours(t, "after"),
            Every = Ours(t, "every"),
            HeldFor = Ours(t, "heldFor"),
            IsLocal = (string?)t.Attribute("type") == "internal",
            Priority = place + 1,
            Bends = Bends(Ours(t, "bends")),
        };
    }

    static List<Point> Bends(string? text)
    {
        var bends = new List<Point>();
        foreach (var pair in (text ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries))
            if (
                pair.Split(',') is [var x, var y]
                && double.TryParse(x, NumberStyles.Float, CultureInfo.InvariantCulture, out var at)
                && double.TryParse(y, NumberStyles.Float, CultureInfo.InvariantCulture, out var down)
                && double.IsFinite(at + down)
            )
                bends.Add(new Point(at, down));
        return bends;
    }

    /// <summary>The state that the chart enters first stands before the others.</summary>
    void First()
    {
        if ((string?)root.Attribute("initial") is { Length: > 0 } first && ids.TryGetValue(first, out var id))
            states[id] = states[id] with { Order = -1 };
    }

    NameNode Name(XElement data, int order) =>
        new()
        {
            Name = (string?)data.Attribute("id") ?? throw new DocumentException("A data element has no id."),
            Kind = Enum.TryParse<NameKind>(Ours(data, "kind"), true, out var kind) ? kind : NameKind.Local,
            Type = Ours(data, "type") ?? "Real",
            Unit = Ours(data, "unit"),
            Start = (string?)data.Attribute("expr"),
            Description = Ours(data, "description"),
            Order = order,
        };

    string? Script(XElement element, string when) =>
        element.Elements(standard + when).Select(Statements).Where(s => s is not null).ToList() is { Count: > 0 } all
            ? string.Join(";\n", all)
            : null;

    /// <summary>Scripts as they stand, and assignments and raised events as the statements that they are.</summary>
    string? Statements(XElement element)
    {
        var lines = new List<string>();
        foreach (var e in element.Elements().Where(e => e.Name.Namespace == standard))
            lines.Add(
                e.Name.LocalName switch
                {
                    "script" => e.Value.Trim().TrimEnd(';'),
                    "assign" => $"{(string?)e.Attribute("location")} := {(string?)e.Attribute("expr")}",
                    "raise" => $"{(string?)e.Attribute("event")} := true",
                    var other => throw new DocumentException($"The element {other} is not taken among actions."),
                }
            );
        return lines.Count == 0 ? null : string.Join(";\n", lines);
    }
}
