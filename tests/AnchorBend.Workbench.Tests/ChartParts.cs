using AnchorBend.Modeling.Charts;
using AnchorBend.Modeling.Written;

namespace AnchorBend.Workbench.Tests;

/// <summary>Short ways to write charts down.</summary>
static class ChartParts
{
    public static ChartStateNode State(
        string name,
        string? parent = null,
        ChartStateKind kind = ChartStateKind.State,
        double order = 0,
        string? entry = null,
        string? during = null,
        string? exit = null,
        string? initial = null
    ) =>
        new()
        {
            Name = name,
            Parent = parent,
            Kind = kind,
            Order = order,
            Entry = entry,
            While = during,
            Exit = exit,
            Initial = initial,
        };

    public static ChartTransitionNode Go(
        string from,
        string? to,
        string? guard = null,
        string? on = null,
        string? action = null,
        double priority = 0,
        string? after = null,
        string? every = null,
        string? held = null,
        bool local = false
    ) =>
        new()
        {
            From = from,
            To = to,
            Guard = guard,
            Event = on,
            Action = action,
            Priority = priority,
            After = after,
            Every = every,
            HeldFor = held,
            IsLocal = local,
        };

    public static NameNode Name(string name, NameKind kind, string type = "Integer", string? start = null) =>
        new()
        {
            Name = name,
            Kind = kind,
            Type = type,
            Start = start,
        };

    public static ChartDefinition Chart(
        (string Id, ChartStateNode State)[] states,
        ChartTransitionNode[] transitions,
        params NameNode[] names
    ) =>
        new()
        {
            Name = "Chart under test",
            States = states.Select((s, i) => (s.Id, State: s.State with { Order = i })).ToDictionary(s => s.Id, s => s.State),
            Transitions = transitions.Select((t, i) => (t, i)).ToDictionary(t => $"t{t.i}", t => t.t),
            Names = names.Select((n, i) => (n, i)).ToDictionary(n => $"n{n.i}", n => n.n with { Order = n.i }),
        };
}
