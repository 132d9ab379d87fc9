using System.Globalization;
using System.Xml;
using System.Xml.Linq;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;

namespace AnchorBend.Interchange;

/// <summary>
/// Charts as documents of the open standard for state chart XML (W3C SCXML, recommendation of 1 September 2015) and back. Conditions
/// and statements are those of the equation language (<c>datamodel="equations"</c>, sections 5.1 and B); what the standard does not
/// have, such as times and places on the chart, stands in attributes of a namespace of our own, which other readers pass over
/// (section 3.14).
/// </summary>
public static class ChartXml
{
    static readonly XNamespace Standard = "http://www.w3.org/2005/07/scxml",
        Ours = "urn:anchor-bend:chart";

    const long Longest = 4_000_000;

    public static string Write(ChartDefinition chart)
    {
        var ids = IdsOf(chart);
        var root = new XElement(
            Standard + "scxml",
            new XAttribute("version", "1.0"),
            new XAttribute("datamodel", "equations"),
            new XAttribute("name", chart.Name),
            new XAttribute(XNamespace.Xmlns + "ab", Ours)
        );
        Add(root, ("period", chart.Period), ("description", chart.Description));
        if (ChartSignals.Of(chart).First.GetValueOrDefault("") is { } first)
            root.SetAttributeValue("initial", ids[first]);
        root.Add(
            new XElement(
                Standard + "datamodel",
                chart
                    .Names.OrderBy(n => n.Value.Order)
                    .Select(n =>
                    {
                        var data = new XElement(Standard + "data", new XAttribute("id", n.Value.Name));
                        if (n.Value.Start is { Length: > 0 } start)
                            data.SetAttributeValue("expr", start);
                        Add(
                            data,
                            ("kind", Word(n.Value.Kind.ToString())),
                            ("type", n.Value.Type),
                            ("unit", n.Value.Unit),
                            ("description", n.Value.Description)
                        );
                        return data;
                    })
            )
        );
        Inside(root, null);
        return new XDocument(new XDeclaration("1.0", "UTF-8", null), root).ToString();

        void Inside(XElement around, string? parent)
        {
            foreach (var (id, state) in chart.States.Where(s => s.Value.Parent == parent).OrderBy(s => s.Value.Order))
            {
                var element = new XElement(Standard + NameOf(state.Kind), new XAttribute("id", ids[id]));
                if (state.Kind is ChartStateKind.History or ChartStateKind.DeepHistory)
                    element.SetAttributeValue("type", state.Kind == ChartStateKind.DeepHistory ? "deep" : "shallow");
                Add(
                    element,
                    ("name", state.Name),
                    ("kind", state.Kind == ChartStateKind.Junction ? "junction" : null),
                    ("x", Number(state.X)),
                    ("y", Number(state.Y)),
                    ("width", Number(state.Width)),
                    ("height", Number(state.Height)),
                    ("while", state.While)
                );
                if (state.Initial is { } initial && ids.TryGetValue(initial, out var target))
                {
                    if (state.Kind is ChartStateKind.State)
                        element.SetAttributeValue("initial", target);
                    else
                        element.Add(new XElement(Standard + "transition", new XAttribute("target", target)));
                }

                Script(element, "onentry", state.Entry);
                Script(element, "onexit", state.Exit);
                foreach (var (_, t) in chart.Transitions.Where(t => t.Value.From == id).OrderBy(t => t.Value.Priority))
                    element.Add(Transition(t));
                Inside(element, id);
                around.Add(element);
            }
        }

        XElement Transition(ChartTransitionNode t)
        {
            var element = new XElement(Standard + "transition");
            if (t.Event is { Length: > 0 } waits)
                element.SetAttributeValue("event", waits == "done" ? $"done.state.{ids[t.From]}" : waits);
            if (t.Guard is { Length: > 0 } guard)
                element.SetAttributeValue("cond", guard);
            if (t.To is { } to && ids.TryGetValue(to, out var target))
                element.SetAttributeValue("target", target);
            if (t.IsLocal)
                element.SetAttributeValue("type", "internal");
            Add(
                element,
                ("after", t.After),
                ("every", t.Every),
                ("heldFor", t.HeldFor),
                ("bends", t.Bends.Count == 0 ? null : string.Join(' ', t.Bends.Select(b => $"{Number(b.X)},{Number(b.Y)}")))
            );
            if (t.Action is { Length: > 0 } action)
                element.Add(new XElement(Standard + "script", action));
            return element;
        }
    }

    /// <summary>The chart of a document in the standard's form.</summary>
    /// <exception cref="DocumentException">It is none, or has what charts here do not; the message says what.</exception>
    public static ChartDefinition Read(string text)
    {
        XElement root;
        try
        {
            using var reader = XmlReader.Create(
                new StringReader(text),
                new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, MaxCharactersInDocument = Longest }
            );
            root = XDocument.Load(reader).Root!;
        }
        catch (XmlException e)
        {
            throw new DocumentException($"This is no XML that can be read: {e.Message}");
        }

        if (root.Name != Standard + "scxml")
            throw new DocumentException("This is no state chart XML: its first element is not scxml.");
        return new ChartXmlReader(root, Standard, Ours).Read();
    }

    static string NameOf(ChartStateKind kind) =>
        kind switch
        {
            ChartStateKind.Parallel => "parallel",
            ChartStateKind.Final => "final",
            ChartStateKind.History or ChartStateKind.DeepHistory => "history",
            _ => "state",
        };

    /// <summary>Ids as XML takes them: the names of states, made one of a kind.</summary>
    static Dictionary<string, string> IdsOf(ChartDefinition chart)
    {
        var (ids, taken) = (new Dictionary<string, string>(), new HashSet<string>());
        foreach (var (id, state) in chart.States)
        {
            var plain = XmlConvert.EncodeNmToken(state.Name.Replace(' ', '_'));
            var stem = plain.Length > 0 && (char.IsLetter(plain[0]) || plain[0] == '_') ? plain : $"s_{plain}";
            var name = stem;
            for (var n = 2; !taken.Add(name); n++)
                name = $"{stem}_{n}";
            ids[id] = name;
        }

        return ids;
    }

    static string Number(double value) => value.ToString("R", CultureInfo.InvariantCulture);

    static string Word(string name) => char.ToLowerInvariant(name[0]) + name[1..];

    static void Add(XElement element, params ReadOnlySpan<(string Name, string? Value)> attributes)
    {
        foreach (var (name, value) in attributes)
            if (value is { Length: > 0 })
                element.SetAttributeValue(Ours + name, value);
    }

    static void Script(XElement element, string name, string? statements)
    {
        if (statements is { Length: > 0 } some)
            element.Add(new XElement(Standard + name, new XElement(Standard + "script", some)));
    }
}
