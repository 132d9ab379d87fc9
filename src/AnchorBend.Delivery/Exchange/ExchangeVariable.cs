using AnchorBend.Language.Binding;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Delivery.Exchange;

public enum ExchangeCausality
{
    Independent,
    Parameter,
    Input,
    Output,
    Local,
}

public enum ExchangeType
{
    Real,
    Integer,
    Boolean,
}

/// <summary>A variable of an exchange unit.</summary>
/// <param name="Reference">Number by which importers ask for it.</param>
/// <param name="Place">Where an instance of the code has it, as C.</param>
/// <param name="Start">What it begins with; null where it is computed.</param>
sealed record ExchangeVariable(
    int Reference,
    string Name,
    ExchangeCausality Causality,
    ExchangeType Type,
    string Unit,
    string Description,
    string Place,
    double? Start
)
{
    /// <summary>Of a slope the reference of its state.</summary>
    public int? SlopeOf { get; init; }

    /// <summary>Of an output or a slope the references of inputs and states that it depends on at once.</summary>
    public IReadOnlyList<int> On { get; init; } = [];

    /// <summary>Its magnitude; null where it is one.</summary>
    public double? Nominal { get; init; }

    /// <summary>Whether it passes zero at events.</summary>
    public bool IsIndicator { get; init; }

    /// <summary>Time, parameters, inputs, outputs, then states, their slopes and event indicators, in this order.</summary>
    /// <param name="flow">What the unit has for those that integrate it; null where it steps by itself.</param>
    public static IReadOnlyList<ExchangeVariable> Of(CodeUnit unit, FlowShape? flow)
    {
        var places = new CPlaces(unit);
        List<ExchangeVariable> all = [new(0, "time", ExchangeCausality.Independent, ExchangeType.Real, "s", "Time", "c->now", null)];
        void Add(string name, FlatVariable v, ExchangeCausality causality, string place, double? start) =>
            all.Add(new(all.Count, name, causality, TypeOf(v), UnitOf(v), v.Description ?? "", place, start));
        // Names of parameters and outputs may be the same; within a unit each variable has its own.
        var names = new HashSet<string> { "time" };
        string Free(string name)
        {
            var free = name;
            for (var n = 2; !names.Add(free); n++)
                free = $"{name}_{n}";
            return free;
        }

        foreach (var (name, port) in places.Tunable)
            Add(Free(port.Name), port.Variable, ExchangeCausality.Parameter, "c->p." + name, unit.Parameters.Values[port.Variable.Index]);
        foreach (var (name, port) in places.Inputs)
            Add(Free(port.Name), port.Variable, ExchangeCausality.Input, "c->u." + name, 0);
        foreach (var (name, port) in places.Outputs)
            Add(Free(port.Name), port.Variable, ExchangeCausality.Output, "c->y." + name, null);
        var first = all.Count;
        var input = all.FindIndex(v => v.Causality == ExchangeCausality.Input);
        IReadOnlyList<int> On(Depends on) => [.. on.Inputs.Order().Select(i => input + i), .. on.States.Order().Select(s => first + s)];
        var direct = flow?.Outputs ?? CWriter.Direct(unit);
        for (var i = 0; i < direct.Count; i++)
            all[first - direct.Count + i] = all[first - direct.Count + i] with
            {
                On = On(flow is null ? direct[i] with { States = new HashSet<int>() } : direct[i]),
            };
        if (flow is null)
            return all;
        foreach (var (name, variable, nominal) in flow.States)
        {
            Add(Free(CodeUnit.PathWithin(variable.Name)), variable, ExchangeCausality.Local, "c->s.x." + name, null);
            all[^1] = all[^1] with { Nominal = nominal == 1 ? null : nominal };
        }

        for (var i = 0; i < flow.States.Count; i++)
        {
            var (name, variable, _) = flow.States[i];
            var slope = unit.Model.Variables.ElementAtOrDefault(variable.Derivative);
            all.Add(
                new(
                    all.Count,
                    Free($"der({all[first + i].Name})"),
                    ExchangeCausality.Local,
                    ExchangeType.Real,
                    slope is null ? "" : UnitOf(slope),
                    "",
                    "c->dx." + name,
                    null
                )
                {
                    SlopeOf = first + i,
                    On = On(flow.Slopes[i]),
                }
            );
        }

        for (var i = 0; i < flow.Indicators.Count; i++)
            all.Add(
                new(
                    all.Count,
                    Free($"indicator[{i + 1}]"),
                    ExchangeCausality.Local,
                    ExchangeType.Real,
                    "",
                    flow.Indicators[i].Length > 0 ? $"Passes zero where {flow.Indicators[i]} decides" : "Passes zero at an event",
                    $"c->z[{i}]",
                    null
                )
                {
                    IsIndicator = true,
                }
            );
        return all;
    }

    static ExchangeType TypeOf(FlatVariable v) =>
        v.Type switch
        {
            ScalarType.Boolean => ExchangeType.Boolean,
            ScalarType.Real => ExchangeType.Real,
            _ => ExchangeType.Integer,
        };

    static string UnitOf(FlatVariable v) => v.Unit is { Symbol: { Length: > 0 } symbol } && symbol != "1" ? symbol : "";
}
