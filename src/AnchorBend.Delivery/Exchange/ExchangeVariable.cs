using AnchorBend.Language.Binding;
using AnchorBend.Modeling.Flat;

namespace AnchorBend.Delivery.Exchange;

public enum ExchangeCausality
{
    Independent,
    Parameter,
    Input,
    Output,
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
    /// <summary>Time, parameters, inputs, outputs, in this order.</summary>
    public static IReadOnlyList<ExchangeVariable> Of(CodeUnit unit)
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
