using AnchorBend.Language.Syntax;
using AnchorBend.Modeling.Catalog;
using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Documents;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Modeling.Restructuring;

/// <summary>
/// Moves a state with all in it from the chart at the level to a chart of its own, a part beside that of the chart. A region that is
/// always active leaves its chart; of another state an empty one stays, which switches the new part on and off. What both speak of goes
/// over wires, so it goes one way only: two parts that wait for each other's values in one instant could not be computed.
/// </summary>
public sealed record MoveState : Restructuring
{
    public required string State { get; init; }

    public override Restructured Of(ModelDocument document, PartCatalog catalog)
    {
        if (!PartPath.TryParse(Level, out var path) || document.Chart(path) is not { } found)
            throw new DocumentException("There is no chart at this level any more.");
        if (document.UsesOf(found.Id).Take(2).Count() > 1)
            throw new DocumentException($"The chart '{found.Chart.Name}' has several parts. Make this one independent first.");
        return new StateMoving(document, catalog, path, found.Id, found.Chart, State).Make();
    }

    internal override Restructured On(LevelAt level) => throw new DocumentException("A state is moved from the chart that it stands in.");
}

/// <summary>Works out what goes along with a state.</summary>
sealed class StateMoving
{
    readonly ModelDocument document;
    readonly PartCatalog catalog;
    readonly PartPath path;
    readonly string definition;
    readonly ChartDefinition chart;
    readonly ChartTree tree;
    readonly string state;

    /// <summary>Everything that stands in the state, and the transitions that go along.</summary>
    readonly HashSet<string> inside,
        ways;

    /// <summary>The state's own actions: those that stay where it stood, and those that go along.</summary>
    readonly ChartStateNode staying,
        going;

    public StateMoving(ModelDocument document, PartCatalog catalog, PartPath path, string definition, ChartDefinition chart, string state)
    {
        this.catalog = catalog;
        (this.document, this.path, this.definition, this.chart, this.state) = (document, path, definition, chart, state);
        tree = new ChartTree(chart);
        if (!chart.States.TryGetValue(state, out var node) || node.Kind is not (ChartStateKind.State or ChartStateKind.Parallel))
            throw new DocumentException("A state is moved to a part, with all that stands in it; choose one.");
        inside = [.. tree.InOrder.Where(s => tree.IsWithin(s, state))];
        if (inside.Count == 0)
            throw new DocumentException($"Nothing stands in '{node.Name}', so there is nothing to move.");
        IsAlways = tree.Around(state).All(a => a == ChartTree.Root ? tree.StatesIn(a).Count() == 1 : tree.IsParallel(a));
        if (IsAlways && tree.ParentOf(state) == ChartTree.Root)
            throw new DocumentException($"'{node.Name}' is all there is in the chart, which is a part already.");
        ways = [.. chart.Transitions.Where(t => GoesAlong(t.Value)).Select(t => t.Key)];
        CheckWays(node.Name);
        // An action that only says what the rest of the chart says elsewhere stays beside that.
        var set = ChartTexts
            .Together([.. inside.Select(s => ChartTexts.Of(chart.States[s])), .. ways.Select(w => ChartTexts.Of(chart.Transitions[w]))])
            .Sets;
        bool Goes(string statement) => IsAlways || WrittenTexts.OfStatements(statement).Sets.Overlaps(set);
        var (entry, during, exit) = (Parted(node.Entry, Goes), Parted(node.While, Goes), Parted(node.Exit, Goes));
        staying = node with { Entry = entry.Not, While = during.Not, Exit = exit.Not };
        going = node with { Entry = entry.So, While = during.So, Exit = exit.So };
    }

    /// <summary>Statements of a text for which something is so, and the others; null for none. One with branches or loops in it is not
    /// cut.</summary>
    static (string? So, string? Not) Parted(string? text, Func<string, bool> isSo)
    {
        if (string.IsNullOrWhiteSpace(text))
            return (null, null);
        string[] statements = text.Contains("end ", StringComparison.Ordinal)
            ? [text]
            : text.Split(';', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);
        return (Joined(statements.Where(isSo)), Joined(statements.Where(s => !isSo(s))));
    }

    static string? Joined(IEnumerable<string?> statements) =>
        statements.Where(s => !string.IsNullOrWhiteSpace(s)).ToList() is { Count: > 0 } some ? string.Join("; ", some) : null;

    /// <summary>Whether the state is active from the start to the end.</summary>
    bool IsAlways { get; }

    bool GoesAlong(ChartTransitionNode t) => inside.Contains(t.From) || t.From == state && (t.To is not { } to || inside.Contains(to));

    void CheckWays(string name)
    {
        string Told(string id) => $"'{chart.States[id].Name}'";
        foreach (var (id, t) in chart.Transitions)
        {
            if (ways.Contains(id))
            {
                if (t.To is { } out_ && out_ != state && !inside.Contains(out_))
                    throw new DocumentException(
                        $"A transition leads from {Told(t.From)} out of '{name}' to {Told(out_)}. Let it begin at '{name}' first."
                    );
                continue;
            }

            if (t.To is { } into && inside.Contains(into))
                throw new DocumentException(
                    $"A transition leads from {Told(t.From)} to {Told(into)} in '{name}'. Let it lead to '{name}' first."
                );
            if (t.From == state && t.To == state)
                throw new DocumentException(
                    $"'{name}' is left and entered again at once by a transition to itself, which a part cannot see."
                );
            if (t.From == state && t.Event == "done")
                throw new DocumentException($"A transition waits for '{name}' to be done, which the chart would not learn from a part.");
        }

        if (!IsAlways && tree.Around(state).Any(a => tree.HistoriesIn(a).Any(h => chart.States[h].Kind == ChartStateKind.DeepHistory)))
            throw new DocumentException(
                $"A deep history around '{name}' remembers what was active in it, which a part forgets when it is left."
            );
    }

    public Restructured Make()
    {
        var taken = ChartTexts.Together([
            .. inside.Select(s => ChartTexts.Of(chart.States[s])),
            ChartTexts.Of(going),
            .. ways.Select(w => ChartTexts.Of(chart.Transitions[w])),
        ]);
        var left = ChartTexts.Together([
            .. chart.States.Where(s => s.Key != state && !inside.Contains(s.Key)).Select(s => ChartTexts.Of(s.Value)),
            ChartTexts.Of(staying),
            .. chart.Transitions.Where(t => !ways.Contains(t.Key)).Select(t => ChartTexts.Of(t.Value)),
        ]);
        var shares = chart.Names.ToDictionary(n => n.Key, n => NameShare.Of(n.Value, left, taken));
        var switching = IsAlways ? null : FreeName($"{Plain(chart.States[state].Name)}_on");
        var tells = switching ?? shares.Values.FirstOrDefault(s => s is { FromOld: true })?.Name;
        if (tells is not null && shares.Values.FirstOrDefault(s => s.FromNew)?.Name is { } back)
            throw new DocumentException(
                $"'{chart.States[state].Name}' would take '{tells}' from the chart and give it '{back}': they would wait for each other. "
                    + "Let one of the two not need the other."
            );
        var id = NewIds.Definition(document);
        var name = NewIds.DefinitionName(document, chart.States[state].Name);
        var (level, diagram) = document.Level(path.Above)!.Value;
        var part = NewIds.In(diagram.Parts, "p");
        var moved = New(name, shares, switching);
        var signals = Signals(shares, moved);
        var parting = new ChartParting(diagram, catalog, path.Id, part, shares, switching);
        var after = document
            .With(definition, Old(shares, switching))
            .With(id, moved)
            .With(level, parting.On(DefinitionReference.OfOwn(id), name, signals));
        return new Restructured(
            "Move to a part",
            SignalIdentities.Changed(document, after, r => Signal(r, path.Above.Then(part), signals)),
            [IsAlways ? tree.ParentOf(state) : state]
        );
    }

    static string Plain(string name)
    {
        var letters = string.Concat(name.Where(c => char.IsAsciiLetterOrDigit(c) || c == '_'));
        return letters.Length > 0 && char.IsAsciiLetter(letters[0]) ? letters : "state" + letters;
    }

    string FreeName(string wanted)
    {
        var name = wanted;
        for (var n = 2; chart.Names.Values.Any(v => v.Name == name) || !Lexer.IsPlainIdentifier(name); n++)
            name = $"{wanted}{n}";
        return name;
    }

    /// <summary>The chart without what was moved.</summary>
    ChartDefinition Old(Dictionary<string, NameShare> shares, string? switching)
    {
        var states = chart.States.Where(s => !inside.Contains(s.Key)).ToDictionary();
        states.Remove(state);
        if (switching is not null)
            states[state] = staying with
            {
                Kind = ChartStateKind.State,
                Initial = null,
                Entry = Joined([staying.Entry, $"{switching} := true"]),
                Exit = Joined([staying.Exit, $"{switching} := false"]),
            };
        var names = chart
            .Names.Where(n => shares[n.Key].Old is not null)
            .ToDictionary(n => n.Key, n => n.Value with { Kind = shares[n.Key].Old!.Value });
        if (switching is not null)
            names[NewIds.In(names, "n")] = Switch(switching, NameKind.Output, names.Values);
        return chart with
        {
            States = states.ToDictionary(
                s => s.Key,
                s => s.Value.Initial == state && switching is null ? s.Value with { Initial = null } : s.Value
            ),
            Transitions = chart.Transitions.Where(t => !ways.Contains(t.Key)).ToDictionary(),
            Names = names,
        };
    }

    static NameNode Switch(string name, NameKind kind, IEnumerable<NameNode> others) =>
        new()
        {
            Name = name,
            Kind = kind,
            Type = "Boolean",
            Order = others.Select(n => n.Order).DefaultIfEmpty().Max() + 1,
        };

    ChartDefinition New(string name, Dictionary<string, NameShare> shares, string? switching)
    {
        var states = inside.ToDictionary(s => s, s => chart.States[s]);
        states[state] = going with { Parent = null };
        var transitions = ways.ToDictionary(w => w, w => chart.Transitions[w]);
        var names = chart
            .Names.Where(n => shares[n.Key].New is not null)
            .ToDictionary(n => n.Key, n => n.Value with { Kind = shares[n.Key].New!.Value });
        if (switching is null)
            return new ChartDefinition
            {
                Name = name,
                Period = chart.Period,
                States = states,
                Transitions = transitions,
                Names = names,
            };
        var waits = NewIds.In(chart.States, "s");
        states[waits] = new ChartStateNode
        {
            Name = states[state].Name == "Waits" ? "Off" : "Waits",
            Order = states[state].Order - 1,
            X = states[state].X,
            Y = states[state].Y - 120,
        };
        var goes = NewIds.In(chart.Transitions, "t");
        transitions[goes] = new ChartTransitionNode
        {
            From = waits,
            To = state,
            Guard = switching,
        };
        transitions[goes + "b"] = new ChartTransitionNode
        {
            From = state,
            To = waits,
            Guard = $"not {switching}",
        };
        names[NewIds.In(names, "n")] = Switch(switching, NameKind.Input, names.Values);
        return new ChartDefinition
        {
            Name = name,
            Period = chart.Period,
            States = states,
            Transitions = transitions,
            Names = names,
        };
    }

    /// <summary>What variables of the chart's part become variables of the new one, and how they are called there.</summary>
    Dictionary<string, string> Signals(Dictionary<string, NameShare> shares, ChartDefinition next)
    {
        var (before, after) = (ChartSignals.Of(chart), ChartSignals.Of(next));
        var found = shares.Values.Where(s => s is { New: NameKind.Output or NameKind.Local }).ToDictionary(s => s.Name, s => s.Name);
        foreach (var id in inside.Where(before.States.ContainsKey))
            found[before.States[id]] = after.States[id];
        foreach (var id in ways.Where(before.Transitions.ContainsKey))
            found[before.Transitions[id]] = after.Transitions[id];
        if (IsAlways)
            found[before.States[state]] = after.States[state];
        return found;
    }

    string Signal(string reference, PartPath part, Dictionary<string, string> signals) =>
        SignalReference.TryParse(reference, out var signal) && signal.Part.Equals(path) && signals.TryGetValue(signal.Port, out var name)
            ? new SignalReference(part, name).ToString()
            : reference;
}
